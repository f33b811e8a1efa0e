import { existsSync } from "node:fs";
import { join } from "node:path";
import { makeTrack } from "../testing/media";
import { contentDigest } from "../testing/server";
import { expect, test } from "./test";
import { Program } from "./program";

test("killed at ten moments of its first start, the next start works every time", async () => {
  test.setTimeout(300_000);
  const program = new Program("on");
  // From the first files of the database to the middle of loading the sample.
  for (const ms of [350, 700, 1_100, 1_500, 2_000, 2_600, 3_300, 4_200, 5_200, 6_500]) {
    await program.launch();
    await new Promise((next) => setTimeout(next, ms));
    await program.kill();
    expect(program.said).not.toMatch(/could not|refuses|already runs|Error/);
  }
  await program.launch();
  await program.up();
  const page = await (await fetch(`${program.base}/sign-in`)).text();
  expect(page).toContain("Suri Vale");
  const signedIn = await fetch(`${program.base}/sign-in`, {
    method: "POST",
    body: new URLSearchParams({ demo: "suri@fennlark.example" }),
    redirect: "manual",
  });
  const cookie = signedIn.headers
    .getSetCookie()
    .map((c) => c.split(";")[0])
    .join("; ");
  const library = await (await fetch(`${program.base}/library`, { headers: { cookie } })).text();
  expect(library).toContain("Pane schedule for the north range");
  expect(existsSync(join(program.data, "postgres.half"))).toBe(false);
  await program.stop();
});

test("the database and what does the jobs are killed idle, during an upload, and while somebody watches: nothing is lost", async () => {
  test.setTimeout(180_000);
  const program = new Program("off");
  await program.launch();
  await program.up();
  const form = {
    name: "Orla Fenn",
    workspace: "Fenn",
    email: "orla@glasshouse.test",
    password: "ridge-vent-and-putty",
  };
  const signedUp = await fetch(`${program.base}/sign-up`, {
    method: "POST",
    body: new URLSearchParams(form),
    redirect: "manual",
  });
  const cookie = signedUp.headers
    .getSetCookie()
    .map((c) => c.split(";")[0])
    .join("; ");
  const answered = async () => {
    const began = Date.now();
    await program.up();
    return (Date.now() - began) / 1000;
  };

  program.killDatabase();
  await expect.poll(async () => (await fetch(`${program.base}/readyz`)).status, { intervals: [20] }).toBe(503);
  const refused = await fetch(`${program.base}/library`, { headers: { cookie } });
  if (refused.status === 503) expect(refused.headers.get("retry-after")).toBe("2");
  expect(await answered()).toBeLessThan(10);

  // A recorder that sends while the database dies twice, and again what was not acknowledged.
  const started = (await (
    await fetch(`${program.base}/takes`, {
      method: "POST",
      body: JSON.stringify({ source: "screen", title: "Ridge", audience: "anyone" }),
      headers: { cookie, "content-type": "application/json" },
    })
  ).json()) as { takeId: string; token: string };
  const { init, segments } = makeTrack("screen", 40);
  const parts: [string, Uint8Array][] = [
    ["init", init],
    ...segments.map((s, i) => [String(i + 1), s] as [string, Uint8Array]),
  ];
  let deaths = 0;
  for (const [name, bytes] of parts) {
    if (name === "4" || name === "12") {
      program.killDatabase();
      deaths++;
    }
    await expect
      .poll(
        () =>
          fetch(`${program.base}/ingest/${started.takeId}/screen/${name}`, {
            method: "PUT",
            body: bytes as BodyInit,
            headers: { cookie, "content-digest": contentDigest(bytes) },
          }).then(
            (a) => a.status,
            () => 599,
          ),
        { timeout: 20_000, intervals: [100] },
      )
      .toBeLessThan(300);
  }
  expect(deaths).toBe(2);
  const finished = await fetch(`${program.base}/ingest/${started.takeId}/finish`, {
    method: "PUT",
    body: JSON.stringify({ expected: { screen: segments.length } }),
    headers: { cookie },
  });
  expect(await finished.json()).toMatchObject({ state: "complete", missing: 0 });

  // The process that does the jobs dies: another one does them.
  const worker = program.worker()!;
  process.kill(worker, "SIGKILL");
  await expect.poll(() => program.worker(), { timeout: 20_000 }).toBeGreaterThan(worker);

  const watch = async () => (await fetch(`${program.base}/w/${started.token}/r1/screen.m3u8`)).status;
  expect(await watch()).toBe(200);
  program.killDatabase();
  expect(await answered()).toBeLessThan(10);
  await expect.poll(watch, { timeout: 10_000 }).toBe(200);
  // Jobs and live channels work again: the poster is made by a job.
  await expect
    .poll(async () => (await fetch(`${program.base}/w/${started.token}/poster.jpg`)).status, { timeout: 30_000 })
    .toBe(200);
  expect(program.said).not.toMatch(/unhandled|Unhandled|throw /);
  await program.stop();
});
