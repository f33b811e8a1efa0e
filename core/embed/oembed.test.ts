import { describe, expect, it } from "vitest";
import { embedCode, embedUrl } from "./code";
import { oembedLinks, oembedOf, oembedXml } from "./oembed";

const LINK = "https://nod.glasshouse.test/w/AbCdEfGh_-1234567890AB";
const ABOUT = {
  link: LINK,
  title: `Joints & "glass" <three>`,
  sender: "Suri Vale",
  publicUrl: "https://nod.glasshouse.test",
  frame: { width: 1280, height: 720 },
  poster: { width: 960, height: 540 },
  embeds: true,
};

describe("the HTML of an embed", () => {
  it("names the moments as Media Fragments do, and what is shown", () => {
    expect(embedUrl({ link: LINK })).toBe(LINK.replace("/w/", "/e/"));
    const from = { at: 12_500_000, until: 65_000_000 };
    expect(embedUrl({ link: LINK, from, captions: true, comments: true })).toBe(
      `${LINK.replace("/w/", "/e/")}?captions=on&comments=on#t=12.5,65`,
    );
  });
  it("is one element, whatever the title is", () => {
    const code = embedCode({ ...ABOUT, captions: true, comments: true, size: { width: 640, height: 508 } });
    expect(code).toContain(`title="Joints &#38; &#34;glass&#34; &#60;three&#62;" width="640" height="508"`);
    expect(code).toContain("?captions=on&#38;comments=on");
    expect(code.match(/</g)).toHaveLength(2);
    expect(code.match(/>/g)).toHaveLength(2);
  });
});

// Outside check: oEmbed 1.0, sections 2.3.4 and 4 (from memory).
describe("what a page is told of a link", () => {
  it("is a video with all that is required, within what the page allows", () => {
    const said = oembedOf(ABOUT, { width: 480, height: 2000 });
    expect(said).toMatchObject({ version: "1.0", type: "video", width: 480, provider_name: "Clear Nod" });
    expect(said).toMatchObject({ title: ABOUT.title, author_name: "Suri Vale", height: 389 });
    expect(said.html).toContain(`width="480" height="389"`);
    // A picture that is larger than the page allows is not told of.
    expect(said).not.toHaveProperty("thumbnail_url");
    expect(oembedOf(ABOUT, {})).toMatchObject({
      thumbnail_url: `${LINK}/poster.jpg`,
      thumbnail_width: 960,
      thumbnail_height: 540,
    });
  });
  it("is a link where no site shows it, and of sound alone has no picture", () => {
    const said = oembedOf({ ...ABOUT, embeds: false, frame: null, poster: null }, {});
    expect(said.type).toBe("link");
    for (const absent of ["html", "width", "height", "thumbnail_url"]) expect(said).not.toHaveProperty(absent);
  });
  it("is the same in XML, which is well formed whatever the title is", () => {
    const xml = oembedXml(oembedOf({ ...ABOUT, title: "A\u0000\u0008 & <b>" }, {}));
    expect(xml).toMatch(/^<\?xml version="1.0" encoding="utf-8" standalone="yes"\?>\n<oembed>\n/);
    expect(xml).toContain("<title>A &#38; &#60;b&#62;</title>");
    expect(xml).toContain("<type>video</type>");
    expect(xml.match(/<\w+>/g)).toHaveLength(xml.match(/<\/\w+>/g)!.length);
  });
  it("is found from the page of the recording in both forms", () => {
    const [json, xml] = oembedLinks(LINK, "Joints");
    expect(json).toMatchObject({ tagName: "link", rel: "alternate", type: "application/json+oembed" });
    expect(xml!.type).toBe("text/xml+oembed");
    const asked = new URL(json!.href);
    expect([asked.pathname, asked.searchParams.get("url"), asked.searchParams.get("format")]).toEqual([
      "/oembed",
      LINK,
      "json",
    ]);
  });
});
