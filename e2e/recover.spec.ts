import type { Page } from "@playwright/test";
import * as HLS from "hls-parser";
import { readInit } from "../core/media/init";
import { readSegment } from "../core/media/segment";
import { decodeComplaints, joinBytes, probePackets } from "../testing/media";
import { expect, test } from "./test";
import { recordedSeconds, signUp, startRecording } from "./steps";

interface Kept {
  takeId: string;
  registered: { token: string };
  parts: { kind: string; number: number; bytes: string }[];
}

/** What is in the browser's own store, read as any other page of the site could. */
const keptHere = (page: Page) =>
  page.evaluate(async (): Promise<Kept> => {
    const db = await new Promise<IDBDatabase>((done) => {
      const open = indexedDB.open("clear-nod");
      open.onsuccess = () => done(open.result);
    });
    const all = <T>(store: string) =>
      new Promise<T[]>((done) => {
        const request = db.transaction(store).objectStore(store).getAll();
        request.onsuccess = () => done(request.result as T[]);
      });
    const [take] = await all<{ takeId: string; registered: { token: string } }>("takes");
    const parts = await all<{ kind: string; number: number; bytes: ArrayBuffer }>("parts");
    db.close();
    return {
      ...take!,
      parts: parts.map((p) => ({
        ...p,
        bytes: Array.from(new Uint8Array(p.bytes), (b) => String.fromCharCode(b)).join(""),
      })),
    };
  });

test("the network is cut, the tab is killed, and every frame is there in the end", async ({ page, context }) => {
  await signUp(page);
  await startRecording(page);
  await recordedSeconds(page, 5);
  await context.setOffline(true);
  const told = page.getByText(/No connection\. Kept on this computer, will send: .+ in \d+ parts?/).first();
  const toldParts = async () => Number(/(\d+) parts?/.exec((await told.textContent())!)![1]);
  await expect.poll(toldParts, { timeout: 90_000 }).toBeGreaterThanOrEqual(12);
  const promised = await toldParts();
  // How far each track is on the disk: a slow machine lies behind its clock.
  const onDisk = await page.evaluate(() => Math.min(...Object.values(window.clearNodRecorder!.health().kept)));
  await page.close({ runBeforeUnload: false });

  await context.setOffline(false);
  const back = await context.newPage();
  await back.goto("/library");
  await expect(back.getByText(/An unfinished recording, “Screen and camera/)).toBeVisible();
  const kept = await keptHere(back);
  // What was said to be kept is there.
  expect(kept.parts.length).toBeGreaterThanOrEqual(promised);

  // How many frames there are, counted before anything is sent: here and on the server.
  const onServer = (
    (await (await back.request.get(`/ingest/${kept.takeId}`)).json()) as { stored: Record<string, number[]> }
  ).stored;
  const fetchBytes = async (path: string) =>
    new Uint8Array(await (await back.request.get(`/w/${kept.registered.token}/r1/${path}`)).body());
  const frames: Record<string, number> = {};
  for (const [kind, numbers] of Object.entries(onServer)) {
    const info = readInit(await fetchBytes(`${kind}/init.mp4`));
    frames[kind] = 0;
    for (const n of numbers) frames[kind] += readSegment(await fetchBytes(`${kind}/${n}.m4s`), info).frames;
    for (const p of kept.parts.filter((p) => p.kind === kind && p.number > 0 && !numbers.includes(p.number))) {
      frames[kind] += readSegment(Buffer.from(p.bytes, "latin1"), info).frames;
    }
  }
  expect(Object.keys(frames).sort()).toEqual(["camera", "microphone", "screen", "sound"]);

  await back.getByRole("button", { name: "Send what is there" }).click();
  await expect(back.getByText("Ready, only you")).toBeVisible({ timeout: 30_000 });
  await expect(back.getByText(/An unfinished recording/)).toHaveCount(0);
  for (const [kind, count] of Object.entries(frames)) {
    const list = HLS.parse(
      await (await back.request.get(`/w/${kept.registered.token}/r1/${kind}.m3u8`)).text(),
    ) as HLS.types.MediaPlaylist;
    const parts = await Promise.all(
      ["init.mp4", ...list.segments.map((s) => s.uri.split("/")[1]!)].map((name) => fetchBytes(`${kind}/${name}`)),
    );
    expect([kind, list.endlist, probePackets(joinBytes(...parts)).packets]).toEqual([kind, true, count]);
    expect(decodeComplaints(joinBytes(...parts))).toBe("");
  }
  // All of what was on the disk, though the tab died with its last segment in hand.
  expect(onDisk).toBeGreaterThan(2e6);
  const length = async () =>
    Number((await back.getByRole("listitem").locator("time").first().getAttribute("datetime"))!.slice(2, -1));
  await expect.poll(length).toBeGreaterThanOrEqual(Math.floor(onDisk / 1e6));
});

/** Makes of what is kept in this browser what the second version of the application kept. */
const AS_BEFORE = `(async () => {
  const done = (asked) => new Promise((yes, no) => { asked.onsuccess = () => yes(asked.result); asked.onerror = no; });
  const db = await done(indexedDB.open("clear-nod"));
  const all = (name) => done(db.transaction(name).objectStore(name).getAll());
  const [takes, parts, sizes] = [await all("takes"), await all("parts"), await all("sizes")];
  db.close();
  await done(indexedDB.deleteDatabase("clear-nod"));
  const opening = indexedDB.open("clear-nod", 2);
  opening.onupgradeneeded = () => {
    opening.result.createObjectStore("takes", { keyPath: "takeId" });
    for (const name of ["parts", "sizes"])
      opening.result.createObjectStore(name, { keyPath: ["takeId", "kind", "number"] });
  };
  const before = await done(opening);
  const tx = before.transaction(["takes", "parts", "sizes"], "readwrite");
  for (const { start, registered, stays, ...take } of takes)
    tx.objectStore("takes").put({ ...take, ...registered, ingest: "/ingest/" + take.takeId });
  for (const part of parts) tx.objectStore("parts").put(part);
  for (const size of sizes) tx.objectStore("sizes").put(size);
  await new Promise((written) => (tx.oncomplete = written));
  before.close();
  return { takes: takes.length, parts: parts.length };
})()`;

test("what an earlier version of the application kept here is sent", async ({ page, context }) => {
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 3);
  await context.setOffline(true);
  await recordedSeconds(page, 9);
  await page.close({ runBeforeUnload: false });
  await context.setOffline(false);
  const back = await context.newPage();
  // Of the same site, and without the application.
  await back.goto("/icons/paused.svg");
  expect(await back.evaluate(AS_BEFORE)).toEqual({ takes: 1, parts: expect.any(Number) });
  await back.goto("/library");
  await back.getByRole("button", { name: "Send what is there" }).click();
  await expect(back.getByText("Ready, only you")).toBeVisible({ timeout: 30_000 });
  await expect(back.getByRole("listitem").locator("time").first()).toHaveText(/^0:(0[6-9]|1\d)$/);
  const kept = (await back.evaluate(`(async () => (await indexedDB.databases())[0].version)()`)) as number;
  expect(kept).toBe(3);
});

test("going off line and coming back while recording loses nothing and needs nobody", async ({ page, context }) => {
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 3);
  await context.setOffline(true);
  await expect(page.getByText(/No connection/).first()).toBeVisible();
  await recordedSeconds(page, 7);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await expect(
    page.getByText(/No connection\. Kept on this computer, will send: \d+ kB in \d+ parts?/).first(),
  ).toBeVisible();
  await context.setOffline(false);
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  await expect(page.getByRole("button", { name: /^Play, 0:(0[789]|[1-5]\d)$/ })).toBeVisible();
});
