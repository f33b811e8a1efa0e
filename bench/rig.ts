import { execFileSync, spawn } from "node:child_process";
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { readInit } from "../core/media/init";
import { retime } from "../core/media/retime";
import type { TrackKind } from "../core/media/tracks";
import { freePort, startCluster } from "../server/database/cluster";
import { makeTrack, type MadeKind } from "../testing/media";
import { contentDigest } from "../testing/server";

export interface Figure {
  bench: string;
  figure: string;
  value: number;
  unit: string;
  goal: string;
  met: boolean | null;
}

/** Makes the figures of one bench: what, its value and unit, and the goal that it met or not. */
export const figureOf =
  (bench: string) =>
  (figure: string, value: number, unit: string, goal = "", met: boolean | null = null): Figure => ({
    bench,
    figure,
    value,
    unit,
    goal,
    met,
  });

/** A production server of its own with a member signed in, started as a user starts it. */
export interface Rig {
  base: string;
  dir: string;
  cookie: string;
  /** the server's process */
  pid: number;
  /** the server's own database, for filling its tables */
  databaseUrl: string;
  put(path: string, body: Uint8Array, digest?: string): Promise<Response>;
  start(source: string): Promise<{ takeId: string; token: string; recordingId: string }>;
  stop(): Promise<void>;
}

export async function openRig(): Promise<Rig> {
  const dir = mkdtempSync(join(tmpdir(), "clear-nod-bench-"));
  chmodSync(dir, 0o711);
  mkdirSync(join(dir, "pg"));
  const port = await freePort();
  const base = `http://localhost:${port}`;
  // Its own cluster as ever, only started from here, so that its tables can be filled from here.
  const cluster = await startCluster(join(dir, "pg"));
  const server = spawn("node", [...(process.env.BENCH_NODE?.split(" ") ?? []), "bin/start.mjs"], {
    env: {
      ...process.env,
      PORT: String(port),
      DATA_DIR: join(dir, "data"),
      DATABASE_URL: cluster.url,
      LOG_LEVEL: "warn",
      DEMO: "off",
    },
    stdio: "ignore",
  });
  for (
    let tries = 0;
    !(await fetch(`${base}/healthz`).then(
      (a) => a.ok,
      () => false,
    ));
    tries++
  ) {
    if (tries > 1200) throw new Error("the server did not start");
    await new Promise((next) => setTimeout(next, 100));
  }
  const form = new URLSearchParams({
    name: "Bench",
    workspace: "Bench",
    email: "bench@glasshouse.test",
    password: "ridge-vent-and-putty",
  });
  const signedUp = await fetch(`${base}/sign-up`, { method: "POST", body: form, redirect: "manual" });
  const cookie = signedUp.headers.get("set-cookie")!.split(";")[0]!;
  return {
    base,
    dir,
    cookie,
    pid: server.pid!,
    databaseUrl: cluster.url,
    put: (path, body, digest = contentDigest(body)) =>
      fetch(`${base}${path}`, { method: "PUT", body: body as BodyInit, headers: { cookie, "content-digest": digest } }),
    start: async (source) => {
      const body = JSON.stringify({ source, title: "Bench", audience: "anyone" });
      return (
        await fetch(`${base}/takes`, { method: "POST", body, headers: { cookie, "content-type": "application/json" } })
      ).json() as Promise<{ takeId: string; token: string; recordingId: string }>;
    },
    stop: async () => {
      const ended = new Promise((done) => server.once("exit", done));
      server.kill("SIGTERM");
      await ended;
      await cluster.stop();
      rmSync(dir, { recursive: true, force: true });
    },
  };
}

/**
 * Feeds a take of so many seconds by the real ingest, a few requests at once.
 * @returns what the recorder would announce
 */
export async function feed(
  rig: Rig,
  takeId: string,
  tracks: Partial<Record<TrackKind, MadeKind>>,
  seconds: number,
): Promise<Record<string, number>> {
  const expected: Record<string, number> = {};
  for (const [kind, what] of Object.entries(tracks) as [TrackKind, MadeKind][]) {
    const { init, segments } = makeTrack(what, Math.min(seconds, 20));
    await rig.put(`/ingest/${takeId}/${kind}/init`, init);
    const perSegment = 2 * readInit(init).timescale;
    const count = Math.ceil(seconds / 2);
    expected[kind] = count;
    const queue = Array.from({ length: count }, (_, i) => i);
    await Promise.all(
      Array.from({ length: 6 }, async () => {
        for (let i = queue.shift(); i !== undefined; i = queue.shift()) {
          const which = i % (segments.length - 1);
          const body = retime(segments[which]!, (i - which) * perSegment);
          const answer = await rig.put(`/ingest/${takeId}/${kind}/${i + 1}`, body);
          if (!answer.ok) throw new Error(`segment ${kind} ${i + 1}: ${await answer.text()}`);
        }
      }),
    );
  }
  return expected;
}

export const finish = (rig: Rig, takeId: string, expected: Record<string, number>) =>
  fetch(`${rig.base}/ingest/${takeId}/finish`, {
    method: "PUT",
    body: JSON.stringify({ expected }),
    headers: { cookie: rig.cookie },
  });

/** Waits until what is made of a recording once, off the path, is there: pictures, changes, levels. */
export async function lookedOver(rig: Rig, recordingId: string): Promise<void> {
  for (;;) {
    const answer = await fetch(`${rig.base}/recordings/${recordingId}/looks`, { headers: { cookie: rig.cookie } });
    const { looks } = (await answer.json()) as { looks: { made: boolean }[] };
    if (looks.every(({ made }) => made)) return;
    await new Promise((next) => setTimeout(next, 500));
  }
}

/** Resident memory of the server, in MB. */
export const memoryOf = ({ pid }: Rig) =>
  Number(execFileSync("ps", ["-o", "rss=", "-p", String(pid)]).toString()) / 1024;

/** Processor time that the server has taken so far, in ms (proc(5): `utime` and `stime`, in hundredths of a second). */
export function processorOf({ pid }: Rig): number {
  const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ")[1]!.split(" ");
  return 10 * (Number(fields[11]) + Number(fields[12]));
}

export const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
export const p95 = (values: number[]) =>
  [...values].map(Math.abs).sort((a, b) => a - b)[Math.floor(values.length * 0.95)] ?? Number.NaN;
