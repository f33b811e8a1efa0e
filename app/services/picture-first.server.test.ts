import { Readable } from "node:stream";
import { describe, expect, it } from "vitest";
import { pictureFirst } from "./picture-first.server";

const CODE = 'import "/assets/manifest.js";\nimport * as route0 from "/assets/root.js";\nimport("/assets/entry.js");';
const page = (body: string) => `<html><head><link rel="modulepreload" href="/assets/root.js"/>
<link rel="preload" as="font" href="/assets/words.woff2"/><link rel="modulepreload" href="/assets/entry.js"/></head>
<body>${body}<script nonce="n0nce==" type="module" async="">${CODE}</script><script nonce="n0nce==">more()</script>`;
// In pieces, as a page is written.
const inPieces = (text: string) => Readable.from(text.match(/[^]{1,50}/g)!);

describe("a page with a player", () => {
  it("holds its own code, and what that brings, until it is let go", async () => {
    const html = await pictureFirst(inPieces(page(`<div data-opening="{}"></div>`)));
    expect(html).not.toContain('<link rel="modulepreload"');
    expect(html).toContain('<link rel="preload" as="font"');
    const [, attributes, code, release] =
      /<script ([^>]*data-modules[^>]*)>([^<]*)<\/script><script nonce="n0nce==">([^]*?)<\/script>/.exec(html)!;
    expect(attributes).toBe('nonce="n0nce==" type="text/plain" data-modules="/assets/root.js /assets/entry.js"');
    expect(code).toBe(CODE);
    expect(() => new Function(release!)).not.toThrow();
    expect(html.endsWith('<script nonce="n0nce==">more()</script>')).toBe(true);
  });
});

describe("as it is stays", () => {
  it("a page with nothing to play", async () => {
    expect(await pictureFirst(inPieces(page("<p>Not yet</p>")))).toBe(page("<p>Not yet</p>"));
  });

  it("a page whose code stands otherwise", async () => {
    const other =
      '<div data-opening="{}"></div><link rel="modulepreload" href="/a.js"/><script src="/entry.js"></script>';
    expect(await pictureFirst(inPieces(other))).toBe(other);
  });
});
