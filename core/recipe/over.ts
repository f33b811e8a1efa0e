import type { Range } from "../time/ranges";
import { numberAt, type Fields } from "./fields";
import { onGrid } from "./frames";
import { RecipeError } from "./recipe-error";
import { MOST_TAKES, takeOf, TAKE_SPAN } from "./source-line";

/**
 * What holds over stretches of the source line, each within one take, of which none overlaps another. A stretch is
 * named after the moment at which it begins.
 */
export type Overs<T> = Readonly<Record<string, Range & T>>;

/** One named thing of them, as it is to be; null for not at all. */
export interface PutOver<T> {
  id: string;
  value: (Range & T) | null;
}

/**
 * What has to be put so that a value holds over a stretch, whatever held there before: stretches that it touches are
 * cut back, or taken in two.
 * @param value null for nothing at all
 */
export function painted<T extends object>(overs: Overs<T>, stretch: Range, value: T | null): PutOver<T>[] {
  const [from, to] = [onGrid(stretch.from), onGrid(stretch.to)];
  if (to <= from) return [];
  const puts = new Map<string, PutOver<T>["value"]>();
  for (const [id, over] of Object.entries(overs)) {
    if (over.from >= to || over.to <= from) continue;
    puts.set(id, over.from < from ? { ...over, to: from } : null);
    if (over.to > to) puts.set(String(to), { ...over, from: to });
  }
  if (value) puts.set(String(from), { ...value, from, to });
  return [...puts].map(([id, put]) => ({ id, value: put }));
}

/** Those of them in order. */
export const inOrder = <T extends Range>(overs: Readonly<Record<string, T>> = {}): T[] =>
  Object.values(overs).sort((a, b) => a.from - b.from);

/** Reads a stretch within one take. @throws {RecipeError} */
export function stretchAt({ from, to }: Fields, path: string): Range {
  const bounds = { least: 0, most: MOST_TAKES * TAKE_SPAN, whole: true };
  const stretch = { from: numberAt(from, `${path}/from`, bounds), to: numberAt(to, `${path}/to`, bounds) };
  if (stretch.to <= stretch.from) throw new RecipeError(`${path}/to`, "must be after `from`");
  if (takeOf(stretch.from) !== takeOf(stretch.to - 1))
    throw new RecipeError(`${path}/to`, "a stretch lies within one take");
  return stretch;
}

/** @throws {RecipeError} where one is named after something else, or overlaps another */
export function checkOvers(overs: Overs<object>, path: string): void {
  const sorted = Object.entries(overs).sort(([, a], [, b]) => a.from - b.from);
  sorted.forEach(([id, { from }], i) => {
    if (id !== String(from)) throw new RecipeError(`${path}/${id}`, "is named after where it begins");
    if (i > 0 && from < sorted[i - 1]![1].to) throw new RecipeError(`${path}/${id}`, "overlaps another one");
  });
}
