import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import { startOfTake } from "#core/recipe/source-line";
import type { Range } from "#core/time/ranges";
import { formatClock, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { SHOWN_LINE } from "./sql";

interface LineRow {
  recipe: unknown;
  position: number | null;
  end: number;
}

/**
 * What a recording shows, by its published revision. Everything that is said and seen is kept in moments of the source
 * line and told in moments as they are shown: whoever stands at a door asks here first.
 * @param revision the one that somebody's page shows, where that may be an earlier one; null for the published one
 * @throws {Problem} 404 when there is no such revision
 */
export function shownLineOf(db: Database, recordingId: string, revision: number | null = null): Promise<ShownLine> {
  // What one page shows comes from several places, which all ask at the same moment.
  let same = asked.get(db);
  if (!same) asked.set(db, (same = new Map()));
  const key = `${recordingId} ${revision}`;
  const known = same.get(key);
  if (known) return known;
  const line = readLine(db, recordingId, revision).finally(() => same.delete(key));
  same.set(key, line);
  return line;
}

/** What was asked and is not answered yet. */
const asked = new WeakMap<Database, Map<string, Promise<ShownLine>>>();

async function readLine(db: Database, recordingId: string, revision: number | null): Promise<ShownLine> {
  const [row] = await db.rows<LineRow>(SHOWN_LINE, [recordingId, revision]);
  if (!row) throw new Problem(404, "no-such-revision", "This recording does not show that any more.");
  return new ShownLine(parseRecipe(row.recipe), startOfTake(row.position ?? 1) + row.end);
}

/** A shown moment on the source line. @throws {Problem} 422 for one that the recording does not have */
export function sourceOf(line: ShownLine, at: Micros): Micros {
  if (at > line.length)
    throw new Problem(
      422,
      "beyond-the-end",
      `The recording is ${formatClock(line.length)} long; this moment is beyond its end.`,
    );
  return line.toSource(at);
}

/** A shown stretch on the source line: what lies between its two ends there. @throws {Problem} 422 as `sourceOf` */
export function sourceStretch(line: ShownLine, at: Micros, until: Micros | null): { at: Micros; until: Micros | null } {
  if (until === null) return { at: sourceOf(line, at), until };
  const from = sourceOf(line, at);
  sourceOf(line, until);
  // A stretch that goes on into another kept stretch ends, on the source line, with the one that it begins in.
  const [first] = line.toSourceRanges({ from: at, to: until });
  return { at: from, until: first ? first.to : null };
}

/** Where a stretch of the source line is shown; null where nothing of its beginning is. */
export function shownStretch<T extends { at: Micros; until: Micros | null }>(line: ShownLine, item: T): T | null {
  if (line.isIdentity) return item;
  const { shown, kept } = line.toShown(item.at);
  if (!kept) return null;
  const [part] = item.until === null ? [] : line.toShownRanges({ from: item.at, to: item.until });
  return { ...item, at: shown, until: part ? part.to : null };
}

/** Those of some items whose moment is shown, at that moment, in the order shown. */
export function shownOnly<T extends { at: Micros }>(line: ShownLine, items: T[]): T[] {
  if (line.isIdentity) return items;
  return items
    .flatMap((item) => {
      const { shown, kept } = line.toShown(item.at);
      return kept ? [{ ...item, at: shown }] : [];
    })
    .sort((a, b) => a.at - b.at);
}

/** Where stretches of the source line are shown, each as far as it is. */
export function shownParts<T extends Range>(line: ShownLine, items: T[]): T[] {
  if (line.isIdentity) return items;
  return items
    .flatMap((item) => line.toShownRanges(item).map((part) => ({ ...item, ...part })))
    .sort((a, b) => a.from - b.from);
}
