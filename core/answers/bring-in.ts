import type { ReadComment } from "./web-annotation";

/** A comment that stands at a recording already. */
export interface StandingComment {
  id: string;
  replyTo: string | null;
  author: string;
  body: string;
  at: number;
}

/** A comment of a file that is to be added, and the comment it stands under: one that is there, or one of these. */
export interface Added extends ReadComment {
  /** by the id of a standing comment, or of another one that is added */
  under: string | null;
}

const URN = "urn:uuid:";

/**
 * Which comments of a file are new, and where their replies belong, whatever the order of the file. The same comment is
 * known again by its id, else by author, words, moment and thread: equal words of two people are two comments. A reply
 * to a reply stands in the same thread; one whose comment is nowhere is left out.
 * @param newId makes an id for each one that is added
 */
export function planBringIn(
  file: readonly ReadComment[],
  standing: readonly StandingComment[],
  newId: () => string,
): { added: (Added & { newId: string })[]; known: number; lost: number } {
  const byId = new Map(standing.map((c) => [c.id, c]));
  const rootOf = (c: StandingComment): string => c.replyTo ?? c.id;
  const keyOf = (author: string, body: string, at: number, under: string | null) =>
    JSON.stringify([author, body, under === null ? at : null, under]);
  const there = new Set(standing.map((c) => keyOf(c.author, c.body, c.at, c.replyTo)));
  const byKey = new Map(standing.map((c) => [keyOf(c.author, c.body, c.at, c.replyTo), c.id]));
  /** what a name in the file stands for: the root of the thread, here */
  const roots = new Map<string, string>();
  const moments = new Map<string, number>(standing.map((c) => [c.id, c.at]));
  const added: (Added & { newId: string })[] = [];
  let known = 0;
  let lost = 0;

  const isHere = (id: string) => (id.startsWith(URN) ? byId.get(id.slice(URN.length)) : undefined);
  const take = (c: ReadComment, under: string | null): void => {
    const here = isHere(c.id);
    const key = keyOf(c.author, c.body, c.at, under);
    if (here || there.has(key)) {
      known++;
      roots.set(c.id, under ?? (here ? rootOf(here) : byKey.get(key)!));
      return;
    }
    const id = newId();
    there.add(key);
    byKey.set(key, id);
    roots.set(c.id, under ?? id);
    const at = under === null ? c.at : (moments.get(under) ?? c.at);
    moments.set(id, at);
    added.push({ ...c, at, until: under === null ? c.until : null, under, newId: id });
  };

  for (const c of file) if (c.replyTo === null) take(c, null);
  // Replies wait until what they reply to has its place; a round that places none ends it.
  let waiting = file.filter((c) => c.replyTo !== null);
  for (let before = Infinity; waiting.length > 0 && waiting.length < before;) {
    before = waiting.length;
    const later: ReadComment[] = [];
    for (const c of waiting) {
      const here = isHere(c.replyTo!);
      const under = roots.get(c.replyTo!) ?? (here && rootOf(here));
      if (under === undefined) later.push(c);
      else take(c, under);
    }
    waiting = later;
  }
  lost = waiting.length;
  return { added, known, lost };
}
