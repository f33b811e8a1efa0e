import { EMBED_WIDTHS, embedSize } from "./size";
import type { Size } from "../layout/layout";
import { escaped, inXml } from "../markup/text";
import { embedCode } from "./code";

/** An hour: so long a page may keep what it was told. */
const CACHE_SECONDS = 3600;

interface About {
  link: string;
  title: string;
  sender: string;
  publicUrl: string;
  frame: Size | null;
  poster: Size | null;
  /** does any site show it? Otherwise it is told of, and plays at its link */
  embeds: boolean;
}

export type Oembed = Record<string, string | number>;

/** What a page is told that wants to show a link. Source: oEmbed 1.0, section 2.3.4 (oembed.com). */
export function oembedOf(about: About, most: Partial<Size>): Oembed {
  const { link, title, sender, publicUrl, frame, poster, embeds } = about;
  const size = embedSize(frame, EMBED_WIDTHS.medium, most);
  // Narrower or lower than can be used it is told of, and not shown: what the page allows is kept.
  const fits = size.width <= (most.width ?? Infinity) && size.height <= (most.height ?? Infinity);
  const plays = embeds && fits;
  return {
    version: "1.0",
    type: plays ? "video" : "link",
    title,
    author_name: sender,
    provider_name: "Clear Nod",
    provider_url: publicUrl,
    cache_age: CACHE_SECONDS,
    ...(poster &&
      poster.width <= (most.width ?? Infinity) &&
      poster.height <= (most.height ?? Infinity) && {
        thumbnail_url: `${link}/poster.jpg`,
        thumbnail_width: poster.width,
        thumbnail_height: poster.height,
      }),
    ...(plays && { ...size, html: embedCode({ link, title, size }) }),
  };
}

/** The same as XML (section 2.3.4.2): an element for each. */
export const oembedXml = (said: Oembed): string =>
  `<?xml version="1.0" encoding="utf-8" standalone="yes"?>\n<oembed>\n${Object.entries(said)
    .map(([name, value]) => `  <${name}>${escaped(inXml(String(value)))}</${name}>\n`)
    .join("")}</oembed>\n`;

/** The links to it in the page of a recording (section 4). @param link of the recording */
export const oembedLinks = (link: string, title: string) =>
  (["json", "xml"] as const).map((format) => ({
    tagName: "link" as const,
    rel: "alternate",
    type: format === "json" ? "application/json+oembed" : "text/xml+oembed",
    href: new URL(`/oembed?${new URLSearchParams({ url: link, format }).toString()}`, link).href,
    title,
  }));
