import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TestProject } from "vitest/node";
import { startCluster } from "../server/database/cluster";

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
  project.provide("databaseUrl", cluster.url);
  return async () => {
    await cluster.stop();
    rmSync(dir, { recursive: true, force: true });
  };
}
