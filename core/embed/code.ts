import { writeFragment, type Anchor } from "../answers/fragment";
import { escaped } from "../markup/text";
import type { Size } from "../layout/layout";

export interface EmbedWish {
  /** `https://host/w/<token>` */
  link: string;
  title: string;
  size: Size;
  /** where it begins, and where it stops */
  from?: Anchor | null;
  captions?: boolean;
  comments?: boolean;
}

/** The address of a recording's embed. */
export function embedUrl({ link, from, captions, comments }: Omit<EmbedWish, "title" | "size">): string {
  const url = new URL(link.replace(/\/w\/(?=[\w-]+$)/, "/e/"));
  if (captions) url.searchParams.set("captions", "on");
  if (comments) url.searchParams.set("comments", "on");
  if (from) url.hash = writeFragment(from);
  return url.href;
}

/** What is put into a page: HTML that shrinks with a narrow page. */
export const embedCode = ({ title, size: { width, height }, ...wish }: EmbedWish): string =>
  `<iframe src="${escaped(embedUrl(wish))}" title="${escaped(title)}" width="${width}" height="${height}" ` +
  `style="max-width: 100%; border: 0" allow="fullscreen; clipboard-write" loading="lazy"></iframe>`;
