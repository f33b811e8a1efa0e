import { gunzipSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { SamePages, type WholePage } from "./same-pages.server";

const page = (nonce: string, n: number) =>
  new Response(`<script nonce="${nonce}">${n}</script><style nonce="${nonce}">`, {
    headers: { "content-type": "text/html", "content-security-policy": `script-src 'nonce-${nonce}'` },
  });

const textOf = (answer: WholePage | Response) =>
  "body" in answer && Buffer.isBuffer(answer.body) ? answer.body.toString() : (answer as Response).text();
const headerOf = (answer: WholePage | Response, name: string) => new Headers(answer.headers).get(name);

describe("pages that are the same for everybody", () => {
  it("are made once for all who ask at once, and allow each their own scripts", async () => {
    const pages = new SamePages();
    let made = 0;
    const ask = (nonce: string) =>
      pages.answer("link", { nonce, gzip: false }, () => Promise.resolve(page(nonce, ++made)));
    const nonces = Array.from({ length: 50 }, (_, n) => `nonce${n}`);
    const answers = await Promise.all(nonces.map(ask));
    expect(made).toBe(1);
    for (const [n, answer] of answers.entries()) {
      expect(headerOf(answer, "content-security-policy")).toBe(`script-src 'nonce-${nonces[n]}'`);
      expect(await textOf(answer)).toBe(`<script nonce="${nonces[n]}">1</script><style nonce="${nonces[n]}">`);
    }
    await pages.answer("another link", { nonce: "x", gzip: false }, () => Promise.resolve(page("x", ++made)));
    expect(made).toBe(2);
  });

  it("are no pages where somebody is refused, led elsewhere or known from then on", async () => {
    const pages = new SamePages();
    let made = 0;
    const answers = [
      () => new Response("no", { status: 404 }),
      () => new Response("hello", { headers: { "set-cookie": "guest=1" } }),
    ];
    for (const answer of answers) {
      const ask = () => pages.answer("link", { nonce: "n", gzip: false }, () => Promise.resolve((made++, answer())));
      const [first, second] = await Promise.all([ask(), ask()]);
      expect([first, second].map((one) => (one as Response).status)).toEqual([answer().status, answer().status]);
      expect([await textOf(first), await textOf(second)]).toEqual(Array(2).fill(await answer().text()));
    }
    expect(made).toBe(4);
  });

  it("come compressed to whoever takes that", async () => {
    const pages = new SamePages();
    const answer = await pages.answer("link", { nonce: "n", gzip: true }, () => Promise.resolve(page("n", 1)));
    expect(headerOf(answer, "content-encoding")).toBe("gzip");
    expect(gunzipSync((answer as WholePage).body).toString()).toBe(await page("n", 1).text());
  });

  it("that fail are made anew by the next", async () => {
    const pages = new SamePages();
    const failing = pages.answer("link", { nonce: "n", gzip: false }, () => Promise.reject(new Error("no database")));
    const waiting = pages.answer("link", { nonce: "m", gzip: false }, () => Promise.resolve(page("m", 1)));
    await expect(failing).rejects.toThrow("no database");
    expect(await textOf(await waiting)).toContain('nonce="m"');
    const next = await pages.answer("link", { nonce: "o", gzip: false }, () => Promise.resolve(page("o", 2)));
    expect(await textOf(next)).toContain('nonce="o"');
  });
});
