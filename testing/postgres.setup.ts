import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import type { TestProject } from "vitest/node";
import { startCluster } from "../server/database/cluster";
import { openRuntime } from "../server/runtime";
import { readSettings } from "../server/settings";
import { createDatabase, TEMPLATE } from "./postgres";

declare module "vitest" {
  export interface ProvidedContext {
    /** a real PostgreSQL, made for this run; every test file gets a database of its own in it */
    databaseUrl: string;
  }
}

export default async function setup(project: TestProject) {
  const dir = mkdtempSync(join(tmpdir(), "clear-nod-test-"));
  // Where PostgreSQL runs as another user, that user has to reach its files.
  chmodSync(dir, 0o711);
  const cluster = await startCluster(dir);
  await hurry(cluster.url);
  await migrateTemplate(cluster.url, dir);
  project.provide("databaseUrl", cluster.url);
  return async () => {
    await cluster.stop();
    rmSync(dir, { recursive: true, force: true });
  };
}

/** What is in this cluster need not outlive a failure of the machine. */
async function hurry(url: string): Promise<void> {
  const admin = new pg.Client({ connectionString: url });
  await admin.connect();
  for (const setting of ["fsync", "full_page_writes", "synchronous_commit"])
    await admin.query(`alter system set ${setting} = off`);
  await admin.query("select pg_reload_conf()");
  await admin.end();
}

/** Tables and queues are made once; the databases of tests are copies. */
async function migrateTemplate(clusterUrl: string, dir: string): Promise<void> {
  const url = await createDatabase(clusterUrl, TEMPLATE, "template0");
  const runtime = await openRuntime(readSettings({ DATA_DIR: join(dir, "template"), LOG_LEVEL: "silent" }), url);
  await runtime.close();
}
