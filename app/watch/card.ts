import type { MetaDescriptor } from "react-router";
import { spokenLength, toSeconds, type Micros } from "#core/time/micros";

/** What a page knows of its recording. */
interface About {
  title: string;
  sender: string;
  description: string;
  hasPoster: boolean;
  link: string;
  isPublic: boolean;
  playable: { durationUs: Micros } | null;
}

const NAME = "Clear Nod";
const MOST = 200;

/**
 * How a link is shown where it is pasted (Open Graph, ogp.me; cards of the same names with `twitter:`): what it is
 * about where anybody may see that, and nothing but our name otherwise.
 */
export function cardOf(about: About | null): MetaDescriptor[] {
  if (!about?.isPublic) return [og("site_name", NAME), og("title", NAME)];
  const { title, sender, description, hasPoster, link, playable } = about;
  const length = playable?.durationUs ?? 0;
  const by = `Recorded by ${sender}${length > 0 ? `, ${spokenLength(length)}` : ""}.`;
  const words = description.replaceAll(/\s+/g, " ").trim();
  const said = words === "" ? by : words.length <= MOST ? words : `${words.slice(0, MOST - 1).trimEnd()}…`;
  return [
    og("site_name", NAME),
    og("type", "video.other"),
    og("title", title),
    og("url", link),
    og("description", said),
    { name: "description", content: said },
    { name: "twitter:card", content: hasPoster ? "summary_large_image" : "summary" },
    ...(hasPoster ? [og("image", `${link}/poster.jpg`), og("image:alt", title)] : []),
    ...(length > 0
      ? [{ property: "video:duration", content: String(Math.max(1, Math.round(toSeconds(length)))) }]
      : []),
  ];
}

const og = (property: string, content: string) => ({ property: `og:${property}`, content });
