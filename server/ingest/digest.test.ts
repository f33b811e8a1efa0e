import { randomBytes } from "node:crypto";
import { parseDictionary, serializeDictionary } from "structured-headers";
import { describe, expect, it } from "vitest";
import { readContentDigest, writeContentDigest } from "./digest";

/** Outside check: the dictionary of RFC 8941 as the package `structured-headers` writes and reads it. */
const bytes = (buffer: Buffer) => buffer.buffer.slice(buffer.byteOffset, buffer.byteOffset + buffer.length);

describe("the Content-Digest field (RFC 9530)", () => {
  it("is read as a reference library writes it, alone and among others, with parameters or without", () => {
    for (let n = 0; n < 200; n++) {
      const digest = randomBytes(32);
      const others = { "sha-512": randomBytes(64), unixsum: randomBytes(2) };
      const entries: [string, [ArrayBuffer, Map<string, string | boolean>]][] = [
        ["sha-256", [bytes(digest) as ArrayBuffer, new Map(n % 3 === 0 ? [["note", "later"]] : [])]],
        ...(n % 2 === 0
          ? Object.entries(others).map(
              ([name, value]) =>
                [name, [bytes(value) as ArrayBuffer, new Map()]] as [string, [ArrayBuffer, Map<string, string>]],
            )
          : []),
      ];
      if (n % 4 === 0) entries.reverse();
      expect(readContentDigest(serializeDictionary(new Map(entries)))).toEqual(digest);
    }
  });

  it("is written so that a reference library reads it", () => {
    const digest = randomBytes(32);
    const [value] = parseDictionary(writeContentDigest(digest)).get("sha-256")! as [ArrayBuffer, unknown];
    expect(Buffer.from(value)).toEqual(digest);
  });

  it.each([
    undefined,
    "",
    "sha-256",
    "sha-256=abc",
    "sha-256=:abc:",
    "sha-512=:AAAA:",
    `xsha-256=:${"A".repeat(43)}=:`,
    `sha-256="${"A".repeat(43)}="`,
  ])("is refused as %j", (header) => {
    expect(() => readContentDigest(header)).toThrow(/Content-Digest/);
  });
});
