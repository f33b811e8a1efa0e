import { execFileSync, spawn } from "node:child_process";
import { chmodSync, mkdirSync, writeFileSync } from "node:fs";
import { Agent, request } from "node:http";
import { join } from "node:path";
import { retime } from "../core/media/retime";
import { freePort } from "../server/database/cluster";
import { makeTrack } from "../testing/media";
import { contentDigest } from "../testing/server";
import { openDurable } from "./durable";
import { feed, figureOf, finish, lookedOver, processorOf, type Figure, type Rig } from "./rig";

const AT_ONCE = 8;

/** nginx on the same disk, taking PUT and serving files, with its defaults otherwise. */
async function openNginx(dir: string) {
  const port = await freePort();
  const root = join(dir, "nginx");
  mkdirSync(join(root, "www"), { recursive: true });
  chmodSync(root, 0o777);
  const conf = join(root, "nginx.conf");
  writeFileSync(
    conf,
    `daemon off; pid ${root}/pid; error_log ${root}/error.log; worker_processes auto; ${process.getuid?.() === 0 ? "user root;" : ""}
     events {} http { access_log off; sendfile on; client_max_body_size 16m; client_body_temp_path ${root}/tmp;
     server { listen 127.0.0.1:${port}; root ${root}/www; location / { dav_methods PUT; create_full_put_path on; } } }`,
  );
  const process_ = spawn("/usr/sbin/nginx", ["-p", root, "-c", conf], { stdio: "ignore" });
  const base = `http://127.0.0.1:${port}`;
  for (
    let n = 0;
    n < 50 &&
    !(await fetch(base).then(
      () => true,
      () => false,
    ));
    n++
  )
    await new Promise((next) => setTimeout(next, 50));
  return { base, www: join(root, "www"), stop: () => void process_.kill("SIGTERM") };
}

interface Job {
  method: "PUT" | "GET";
  url: string;
  body?: Buffer;
  headers?: Record<string, string>;
}

/** Carries out all jobs, a few at once on kept connections. @returns requests and megabytes a second */
async function load(jobs: Job[]): Promise<{ rate: number; megabytes: number }> {
  const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
  const queue = [...jobs];
  let bytes = 0;
  const one = (job: Job) =>
    new Promise<void>((done, failed) => {
      const req = request(
        job.url,
        {
          method: job.method,
          agent,
          headers: { ...job.headers, ...(job.body && { "content-length": job.body.length }) },
        },
        (res) => {
          if (res.statusCode! >= 300) return failed(new Error(`${job.method} ${job.url}: ${res.statusCode}`));
          res
            .on("data", (part: Buffer) => (bytes += part.length))
            .on("end", done)
            .on("error", failed);
        },
      );
      req.on("error", failed).end(job.body);
      bytes += job.body?.length ?? 0;
    });
  const began = performance.now();
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let j = queue.shift(); j; j = queue.shift()) await one(j);
    }),
  );
  const seconds = (performance.now() - began) / 1000;
  agent.destroy();
  return { rate: jobs.length / seconds, megabytes: bytes / 1e6 / seconds };
}

function figures(
  bench: string,
  ours: Awaited<ReturnType<typeof load>>,
  theirs: Awaited<ReturnType<typeof load>>,
): Figure[] {
  const ratio = ours.rate / theirs.rate;
  return [
    { bench, figure: "requests", value: ours.rate, unit: "/s", goal: "", met: null },
    { bench, figure: "bytes", value: ours.megabytes, unit: "MB/s", goal: "", met: null },
    { bench, figure: "nginx requests", value: theirs.rate, unit: "/s", goal: "", met: null },
    { bench, figure: "nginx bytes", value: theirs.megabytes, unit: "MB/s", goal: "", met: null },
    { bench, figure: "ours / nginx", value: ratio, unit: "×", goal: "≥ 0.5", met: ratio >= 0.5 },
  ];
}

/**
 * Segments in: checked, durable and in the database, beside nginx writing files without any of that, and a program that
 * only writes them durably.
 */
export async function ingest(rig: Rig): Promise<Figure[]> {
  const nginx = await openNginx(rig.dir);
  const durable = await openDurable(join(rig.dir, "durable"), false);
  const hashed = await openDurable(join(rig.dir, "hashed"), true);
  try {
    const { init, segments } = makeTrack("screen", 20);
    const { takeId } = await rig.start("screen");
    await rig.put(`/ingest/${takeId}/screen/init`, init);
    const jobs = (n: number, from: number, base: string | null): Job[] =>
      Array.from({ length: n }, (_, i) => {
        const body = Buffer.from(retime(segments[i % 9]!, (from + i - (i % 9)) * 30_720));
        const url = base ? `${base}/f${from + i}` : `${rig.base}/ingest/${takeId}/screen/${from + i}`;
        const headers = base ? undefined : { cookie: rig.cookie, "content-digest": contentDigest(body) };
        return { method: "PUT", url, body, headers };
      });
    for (const base of [null, nginx.base, durable.base, hashed.base]) await load(jobs(50, 1, base));
    const before = processorOf(rig);
    const ours = await load(jobs(600, 100, null));
    const processor = (processorOf(rig) - before) / 600;
    const theirs = await load(jobs(600, 100, nginx.base));
    const bare = (await load(jobs(600, 100, durable.base))).rate;
    const withHash = (await load(jobs(600, 100, hashed.base))).rate;
    const figure = figureOf("ingest");
    return [
      ...figures("ingest", ours, theirs),
      figure("PUT, write, fdatasync, rename, and nothing else", bare, "/s"),
      figure("ours / that", ours.rate / bare, "×", "≥ 0.7", ours.rate / bare >= 0.7),
      figure("the same, and the SHA-256 of what is kept", withHash, "/s"),
      figure("ours / that", ours.rate / withHash, "×"),
      figure("processor time of our server for a segment", processor, "ms"),
    ];
  } finally {
    nginx.stop();
    durable.stop();
    hashed.stop();
  }
}

/** Segments out: every byte allowed by access, beside nginx sending the same files. */
export async function serve(rig: Rig): Promise<Figure[]> {
  const nginx = await openNginx(rig.dir);
  try {
    const { takeId, token, recordingId } = await rig.start("screen");
    const expected = await feed(rig, takeId, { screen: "screen" }, 40);
    await finish(rig, takeId, expected);
    await lookedOver(rig, recordingId);
    for (let n = 1; n <= 20; n++) {
      const bytes = Buffer.from(await (await fetch(`${rig.base}/w/${token}/r1/screen/${n}.m4s`)).arrayBuffer());
      writeFileSync(join(nginx.www, `${n}.m4s`), bytes);
    }
    execFileSync("sync");
    const jobs = (n: number, base: string): Job[] =>
      Array.from({ length: n }, (_, i) => ({ method: "GET", url: `${base}/${(i % 20) + 1}.m4s` }));
    const ours = `${rig.base}/w/${token}/r1/screen`;
    await load(jobs(200, ours));
    await load(jobs(200, nginx.base));
    return figures("serve", await load(jobs(4_000, ours)), await load(jobs(4_000, nginx.base)));
  } finally {
    nginx.stop();
  }
}
