import { Feed } from "feed";
import { escaped, inXml } from "#core/markup/text";
import { spokenLength } from "#core/time/micros";
import type { ArrivedRow } from "./contents";

/** What a feed tells of a folder. */
export interface FeedWish {
  id: string;
  folder: { id: string; name: string; workspaceName: string };
  rows: readonly ArrivedRow[];
  /** the address at which it was asked for */
  self: string;
  publicUrl: string;
}

/** As old as anything can be: nothing has been put there yet. */
const NEVER = new Date(0);

/**
 * The recordings of a folder as an Atom feed (RFC 4287), what came there last first. What can be watched is in it; what
 * is still being recorded comes when it is whole.
 */
export function atomOf({ id, folder, rows, self, publicUrl }: FeedWish): string {
  const whole = rows.filter(({ state }) => state.kind === "ready" || state.kind === "interrupted");
  const newest = whole[0] ? new Date(whole[0].arrivedAt) : NEVER;
  const feed = new Feed({
    id: `urn:uuid:${id}`,
    title: inXml(`${folder.name}, ${folder.workspaceName}`),
    link: `${publicUrl}/f/${folder.id}`,
    feedLinks: { atom: self },
    updated: newest,
    generator: "Clear Nod",
    author: { name: inXml(folder.workspaceName) },
    copyright: "",
  });
  for (const { id, title, token, sender, durationUs, arrivedAt } of whole)
    feed.addItem({
      id: `urn:uuid:${id}`,
      // The library writes them as HTML: what looks like a tag in a title is none.
      title: escaped(inXml(title)),
      description: escaped(inXml(`${sender}, ${spokenLength(durationUs)}`)),
      link: `${publicUrl}/w/${token}`,
      author: [{ name: inXml(sender) }],
      date: new Date(arrivedAt),
      published: new Date(arrivedAt),
    });
  return feed.atom1();
}
