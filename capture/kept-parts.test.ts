import { expect, it } from "vitest";
import { KeptParts } from "./kept-parts";

it("knows up to where every track that is not lost is on the disk", async () => {
  const parts = new KeptParts();
  expect(parts.end([])).toBe(0);
  await parts.add("screen", 2_000_000, Promise.resolve());
  await parts.add("camera", 1_000_000, Promise.resolve());
  expect(parts.end([])).toBe(1_000_000);
  expect(parts.end(["camera"])).toBe(2_000_000);
  expect(parts.ends).toEqual({ screen: 2_000_000, camera: 1_000_000 });
});

it("counts what is being written, and waits for it whatever comes of it", async () => {
  const parts = new KeptParts();
  let done!: () => void;
  let failed!: (error: Error) => void;
  const first = parts.add("screen", 1, new Promise((resolve) => (done = resolve)));
  const second = parts.add("screen", 2, new Promise((_, reject) => (failed = reject)));
  expect(parts.waiting).toBe(2);
  let settled = false;
  const all = parts.settled().then(() => (settled = true));
  done();
  await first;
  expect([parts.waiting, settled]).toEqual([1, false]);
  failed(new Error("no room"));
  await expect(second).rejects.toThrow("no room");
  await all;
  expect([parts.waiting, parts.ends]).toEqual([0, { screen: 1 }]);
});
