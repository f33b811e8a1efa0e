import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { DiskStorage } from "./disk";
import { MissingObject } from "./storage";

describe("disk storage", () => {
  const root = mkdtempSync(join(tmpdir(), "storage-"));
  const storage = new DiskStorage(root);

  it("keeps, replaces and removes objects, leaving no half-written file", async () => {
    await storage.put("takes/a/1.m4s", Buffer.from("one"));
    await storage.put("takes/a/1.m4s", Buffer.from("two"));
    expect((await storage.get("takes/a/1.m4s")).toString()).toBe("two");
    expect(readdirSync(join(root, "takes/a"))).toEqual(["1.m4s"]);
    await storage.remove("takes/a/1.m4s");
    await storage.remove("takes/a/1.m4s");
    await expect(storage.get("takes/a/1.m4s")).rejects.toThrow(MissingObject);
  });

  it("removes everything below a prefix, and takes new objects there again", async () => {
    await storage.put("takes/b/1", Buffer.from("x"));
    await storage.removeAll("takes/b");
    await storage.put("takes/b/2", Buffer.from("y"));
    expect(readdirSync(join(root, "takes/b"))).toEqual(["2"]);
  });

  it.each(["../out", "/etc/passwd", "a/../../out", "."])("refuses the key %s", async (key) => {
    await expect(storage.put(key, Buffer.from("x"))).rejects.toThrow(/not a storage key/);
  });
});
