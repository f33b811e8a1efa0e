import { randomBytes } from "node:crypto";
import { mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { text } from "node:stream/consumers";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openBucket } from "../../testing/bucket";
import { DiskStorage } from "./disk";
import { openStorage } from "./open";
import { S3Storage } from "./s3";
import { readS3Url, StorageAddressError } from "./s3-url";
import { SettingsError } from "../settings";
import { digestOf, MissingObject, type Storage } from "./storage";

const root = mkdtempSync(join(tmpdir(), "storage-"));
let bucket: Awaited<ReturnType<typeof openBucket>>;
beforeAll(async () => (bucket = await openBucket()));
afterAll(() => bucket.close());

const KINDS: Record<string, () => Storage> = {
  "a disk": () => new DiskStorage(root),
  "a bucket": () => new S3Storage(readS3Url(bucket.url)),
};

it("brings a large file to a bucket in parts, whole or not at all", async () => {
  const MiB = 1024 * 1024;
  const storage = new S3Storage(readS3Url(bucket.url), { request: 6 * MiB, part: 5 * MiB });
  const path = join(root, "larger");
  const bytes = randomBytes(13 * MiB + 7);
  writeFileSync(path, bytes);
  await storage.putFile("parts/f/1.mp4", path);
  expect(digestOf(await storage.get("parts/f/1.mp4"))).toEqual(digestOf(bytes));
  expect(await text(await storage.read("parts/f/1.mp4", { from: 10 * MiB, to: 10 * MiB + 3 }))).toBe(
    bytes.subarray(10 * MiB, 10 * MiB + 4).toString("utf8"),
  );
  await storage.removeAll("parts");
});

describe.each(Object.keys(KINDS))("storage on %s", (kind) => {
  let storage: Storage;
  beforeAll(() => (storage = KINDS[kind]!()));
  const all = async (prefix: string) => {
    const out: string[] = [];
    for await (const { key } of storage.list(prefix)) out.push(key);
    return out.sort();
  };

  it("keeps, replaces and removes objects", async () => {
    await storage.put("takes/a/1.m4s", Buffer.from("one"));
    await storage.put("takes/a/1.m4s", Buffer.from("two"));
    expect((await storage.get("takes/a/1.m4s")).toString()).toBe("two");
    expect(await all("takes/a")).toEqual(["takes/a/1.m4s"]);
    await storage.remove("takes/a/1.m4s");
    await storage.remove("takes/a/1.m4s");
    await expect(storage.get("takes/a/1.m4s")).rejects.toThrow(MissingObject);
    await expect(storage.read("takes/a/1.m4s")).rejects.toThrow(MissingObject);
  });

  it("reads an object as a stream, whole or a part of it", async () => {
    await storage.put("takes/r/1", Buffer.from("0123456789"));
    expect(await text(await storage.read("takes/r/1"))).toBe("0123456789");
    expect(await text(await storage.read("takes/r/1", { from: 2, to: 4 }))).toBe("234");
    expect(await text(await storage.read("takes/r/1", { from: 8, to: 90 }))).toBe("89");
  });

  it("keeps a file as it is", async () => {
    const path = join(root, "large");
    const bytes = randomBytes(3_000_000);
    writeFileSync(path, bytes);
    await storage.putFile("films/f/1.mp4", path);
    expect(digestOf(await storage.get("films/f/1.mp4"))).toEqual(digestOf(bytes));
    await expect(storage.putFile("films/f/2.mp4", join(root, "nothing"))).rejects.toThrow();
    expect(await all("films")).toEqual(["films/f/1.mp4"]);
  });

  it("lists what is below a prefix, with size and age, and nothing of its neighbours", async () => {
    const before = Date.now() - 2_000;
    for (const key of ["list/a/1", "list/a/b/2", "list/ab/3"]) await storage.put(key, Buffer.from("xyz"));
    expect(await all("list/a")).toEqual(["list/a/1", "list/a/b/2"]);
    expect(await all("list/nothing")).toEqual([]);
    for await (const { size, writtenAt } of storage.list("list")) {
      expect(size).toBe(3);
      expect(writtenAt.getTime()).toBeGreaterThan(before);
    }
  });

  it("lists and removes more than fits one answer, and takes new objects there again", async () => {
    const keys = Array.from({ length: 1_050 }, (_, i) => `many/${i}`);
    for (let i = 0; i < keys.length; i += 50) {
      await Promise.all(keys.slice(i, i + 50).map((key) => storage.put(key, Buffer.from("x"))));
    }
    expect((await all("many")).length).toBe(1_050);
    await storage.removeAll("many");
    await storage.removeAll("many");
    expect(await all("many")).toEqual([]);
    await storage.put("many/again", Buffer.from("y"));
    expect(await all("many")).toEqual(["many/again"]);
  }, 60_000);

  it.each(["../out", "/etc/passwd", "a/../../out", ".", "a//b", ""])("refuses the key %j", async (key) => {
    await expect(storage.put(key, Buffer.from("x"))).rejects.toThrow(/not a storage key/);
    await expect(storage.get(key)).rejects.toThrow(/not a storage key/);
  });
});

it("leaves no half-written file on a disk, and shows none", async () => {
  const storage = new DiskStorage(root);
  await storage.put("half/1", Buffer.from("x"));
  expect(readdirSync(join(root, "half"))).toEqual(["1"]);
});

it("removes a directory from a disk while it is written into", async () => {
  const storage = new DiskStorage(root);
  for (let round = 0; round < 20; round++) {
    const writes = Promise.allSettled(Array.from({ length: 20 }, (_, i) => storage.put(`race/${i}`, Buffer.from("x"))));
    await storage.removeAll("race");
    // A file whose directory went away from under it was not kept, and says so.
    for (const { reason } of (await writes).filter((w) => w.status === "rejected")) {
      expect(reason).toMatchObject({ code: "ENOENT" });
    }
  }
});

it.each([
  ["s3://bucket", { bucket: "bucket", prefix: "", endpoint: null, region: "us-east-1" }],
  [
    "s3://bucket/a/b/?endpoint=https://store.example&region=eu-1",
    { bucket: "bucket", prefix: "a/b", endpoint: "https://store.example", region: "eu-1" },
  ],
])("reads the address %s", (url, place) => expect(readS3Url(url)).toEqual(place));

it("says at the start when a bucket cannot be used", async () => {
  await expect(openStorage(bucket.url.replace("glass", "nothing"))).rejects.toThrow(/STORAGE_URL.*nothing/);
  const url = "s3://glass?endpoint=http://127.0.0.1:9";
  await expect(openStorage(url)).rejects.toThrow(SettingsError);
}, 30_000);

it.each(["s3:", "s3:///a", "http://bucket", "s3://bucket?endpoint=store"])("refuses the address %s", (url) =>
  expect(() => readS3Url(url)).toThrow(StorageAddressError),
);
