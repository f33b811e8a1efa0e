import { randomUUID } from "node:crypto";
import { expect, it } from "vitest";
import type { Pass } from "#core/access/access";
import { Passes } from "./passes";

const passes = new Passes("a secret of this server, long enough");
const pass = (by: Pass["by"] = "invite"): Pass => ({ to: randomUUID(), by, of: randomUUID() });

it("are read as they were added, the latest first, each once", () => {
  const [a, b] = [pass(), pass("password")];
  const cookie = passes.add(passes.add(passes.add(null, a), b), a);
  expect(passes.read(cookie)).toEqual([a, b]);
  // A cookie of values that need no quotes (RFC 6265, 4.1.1).
  expect(cookie).toMatch(/^[\w.-]+$/);
});

it("are the latest thirty, in fewer bytes than a browser keeps of a cookie", () => {
  const all = Array.from({ length: 40 }, () => pass());
  const cookie = all.reduce<string | null>((kept, one) => passes.add(kept, one), null)!;
  expect(passes.read(cookie)).toEqual(all.slice(-30).reverse());
  // RFC 6265, 6.1: at least 4096 bytes.
  expect(cookie.length).toBeLessThan(2_500);
});

it("that were made up, changed, cut, or signed by another server are none", () => {
  const cookie = passes.add(null, pass());
  const flipped = [...cookie].map((c, i) => cookie.slice(0, i) + (c === "A" ? "B" : "A") + cookie.slice(i + 1));
  for (const forged of [
    ...flipped,
    cookie.slice(0, -1),
    `p${cookie.slice(1)}`,
    new Passes("another secret").add(null, pass()),
    "",
    "..",
    "x".repeat(10_000),
  ])
    expect(passes.read(forged).length, forged.slice(0, 80)).toBe(0);
  expect(passes.read(`${flipped[3]}.${cookie}`)).toHaveLength(1);
});
