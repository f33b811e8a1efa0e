import { execFileSync } from "node:child_process";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { expect, inject, it } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import { openRuntime } from "../runtime";
import { startCluster } from "./cluster";

it("figures go on in another cluster, after dump and restore", async () => {
  const old = await freshRuntime(inject("databaseUrl"));
  const url = databaseUrlOf(old);
  const recording = await sharedRecording(old, await newMember(old));
  const ida = await new Browser(old, recording).visit();
  await ida.plays([0, 2]);
  await old.folds.keep(recording.id);
  // A cluster that has been used for a while is further on than a new one.
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query("do $$ begin for i in 1..5000 loop perform pg_current_xact_id(); commit; end loop; end $$");
  await client.end();
  await ida.plays([2, 3]);
  await old.close();

  const dir = mkdtempSync(join(tmpdir(), "clear-nod-moved-"));
  chmodSync(dir, 0o711);
  const cluster = await startCluster(dir);
  try {
    const dump = execFileSync("pg_dump", ["--no-owner", url], { maxBuffer: 1 << 28 });
    execFileSync("psql", ["-q", "-v", "ON_ERROR_STOP=1", cluster.url], {
      input: dump,
      stdio: ["pipe", "ignore", "pipe"],
    });
    for (const round of ["first start", "every other start"]) {
      const moved = await openRuntime(old.settings, cluster.url);
      const { folded } = await moved.folds.viewing(recording.id);
      expect([...folded.to], round).toEqual([round === "first start" ? 3_000 : 5_000]);
      if (round === "first start") {
        const again = new Browser(moved, recording);
        again.who = ida.who;
        await again.plays([3, 5]);
        await moved.folds.keep(recording.id);
        expect([...(await moved.folds.of(recording.id)).to]).toEqual([5_000]);
      }
      await moved.close();
    }
  } finally {
    await cluster.stop();
    rmSync(dir, { recursive: true, force: true });
  }
}, 60_000);
