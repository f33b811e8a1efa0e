import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { broughtIn, inOrderOf, leftOut, putBack, type Shown, type Stretches, type TakeStretch } from "./edits";
import { dressed, parseDress, FACETS, putsOf, readPut, swapsBetween, type Facet, type Put, type Swap } from "./dress";
import { DressTrial } from "./dress-trial";
import { isObject, listAt, objectAt, oneOfAt } from "./fields";
import { parseStretches } from "./recipe";
import { MOST_TAKES, takeOf } from "./source-line";
import { RecipeError } from "./recipe-error";

/** What is done to what is kept, in one press. Stretches are of the source line. */
export type Cutting =
  | ({ do: "leave-out" | "put-back" } & Range)
  | { do: "as-recorded" }
  /** the others are left out, and this one is shown as far as it was, or all of it where none of it was */
  | { do: "only"; take: number }
  /** the takes that are shown, one after the other in this order */
  | { do: "order"; takes: number[] };

/** Stretches of takes that came from another recording are shown from a shown time on; null is the end. */
interface BringIn {
  do: "bring-in";
  stretches: readonly Range[];
  at: Micros | null;
}

/** All of it is as it was published once. */
interface AsPublished {
  do: "as-published";
  revision: number;
  shown: Shown;
}

/** What is done to what is shown, in one press. */
export type Deed = Cutting | BringIn | AsPublished | { do: "dress"; puts: readonly Put[] };

/**
 * From `at` on, these stretches were taken out of the list and those put in, and other things are as they are: turned
 * round, it is its own inverse.
 */
export interface Change {
  at: number;
  removed: Range[];
  added: Range[];
  swaps?: Swap[];
}

/** A deed as it is told of: what was put, and what was brought in, is in what it came to. */
export type Told =
  Cutting | { do: "bring-in"; take: number } | { do: "as-published"; revision: number } | { do: "dress"; facet: Facet };

/** A deed, and what it came to. */
export interface Step {
  deed: Told;
  change: Change;
}

/** An edit as it is worked on: what it began from, what was done, and what was undone and can be done again. */
export interface History {
  base: Shown;
  done: Step[];
  undone: Step[];
}

/** What one draft remembers: more than a person does in a week. */
export const MOST_STEPS = 5_000;
/** More things than one press changes: all marks may go at once. */
const MOST_SWAPS = 10_000;

/**
 * What a deed makes of what is shown.
 * @param takes all of each take that is there
 * @throws {RangeError} for what leaves nothing
 */
export function doneTo({ kept, dress }: Shown, deed: Deed, takes: readonly TakeStretch[]): Shown {
  if (deed.do === "dress") return { kept, dress: dressed(dress, deed.puts) };
  if (deed.do === "as-published") return stillThere(deed.shown, takes);
  const next = stretchesAfter(kept, deed, takes);
  if (next.length === 0) throw new RangeError("an edit leaves something to show");
  return { kept: next, dress: deed.do === "as-recorded" ? {} : dress };
}

/** A take that it showed may have been thrown away since. */
function stillThere({ kept, dress }: Shown, takes: Stretches): Shown {
  const there = kept.filter(({ from, to }) => takes.some((take) => take.from <= from && to <= take.to));
  if (there.length === 0) throw new RangeError("nothing of it is there any more");
  return { kept: there, dress };
}

function stretchesAfter(kept: Stretches, deed: Cutting | BringIn, takes: readonly TakeStretch[]): Range[] {
  const of = (stretches: Stretches, take: number) => stretches.filter(({ from }) => takeOf(from) === take);
  const copies = (stretches: Stretches) =>
    stretches.filter(({ from, to }) => to > from).map(({ from, to }) => ({ from, to }));
  switch (deed.do) {
    case "leave-out":
      return leftOut(kept, deed);
    case "put-back":
      return putBack(kept, deed);
    case "only": {
      const shown = of(kept, deed.take);
      return copies(shown.length > 0 ? shown : of(takes, deed.take));
    }
    case "order":
      return inOrderOf(kept, deed.takes);
    case "bring-in":
      return broughtIn(kept, deed.stretches, deed.at);
    case "as-recorded":
      return copies(takes.filter(({ brought }) => !brought));
  }
}

/** The smallest change that makes one of the other; null where they are the same. O(n) */
export function changeBetween({ kept: before, dress }: Shown, { kept: after, dress: next }: Shown): Change | null {
  let at = 0;
  while (at < before.length && at < after.length && same(before[at]!, after[at]!)) at++;
  let [a, b] = [before.length, after.length];
  while (a > at && b > at && same(before[a - 1]!, after[b - 1]!)) [a, b] = [a - 1, b - 1];
  const swaps = swapsBetween(dress, next);
  if (a === at && b === at && swaps.length === 0) return null;
  return { at, removed: before.slice(at, a), added: after.slice(at, b), ...(swaps.length > 0 && { swaps }) };
}

/** What a change makes of what is shown. */
export const changed = ({ kept, dress }: Shown, { at, removed, added, swaps }: Change): Shown => ({
  kept: kept.toSpliced(at, removed.length, ...added),
  dress: swaps ? dressed(dress, putsOf(swaps)) : dress,
});

/** The change that takes another one back. */
export const inverse = ({ at, removed, added, swaps }: Change): Change => ({
  at,
  removed: added,
  added: removed,
  ...(swaps && { swaps: swaps.map((swap) => ({ ...swap, before: swap.after, after: swap.before })) }),
});

export const begun = ({ kept, dress }: Shown): History => ({ base: { kept: [...kept], dress }, done: [], undone: [] });

function told(deed: Deed): Told {
  if (deed.do === "dress") return { do: "dress", facet: deed.puts[0]!.facet };
  if (deed.do === "as-published") return { do: "as-published", revision: deed.revision };
  return deed.do === "bring-in" ? { do: "bring-in", take: takeOf(deed.stretches[0]!.from) } : deed;
}

/** What is shown after all that was done. O(what was done): keep it while steps are added. */
export function shownBy({ base, done }: History): Shown {
  const kept = [...base.kept];
  for (const { change } of done) kept.splice(change.at, change.removed.length, ...change.added);
  const puts = done.flatMap(({ change }) => putsOf(change.swaps ?? []));
  return { kept, dress: dressed(base.dress, puts) };
}

/**
 * One deed more. What was undone before it cannot be done again.
 * @param shown by the history now
 * @returns the same history where the deed changes nothing
 */
export function act(history: History, shown: Shown, deed: Deed, takes: readonly TakeStretch[]): History {
  const change = changeBetween(shown, doneTo(shown, deed, takes));
  if (!change) return history;
  if (history.done.length >= MOST_STEPS) throw new RangeError(`a draft remembers ${MOST_STEPS} steps`);
  return { ...history, done: [...history.done, { deed: told(deed), change }], undone: [] };
}

/** Without the last step; as it is where there is none. */
export function undo({ base, done, undone }: History): History {
  const last = done.at(-1);
  return last ? { base, done: done.slice(0, -1), undone: [...undone, last] } : { base, done, undone };
}

/** With the step that was undone last. */
export function redo({ base, done, undone }: History): History {
  const next = undone.at(-1);
  return next ? { base, done: [...done, next], undone: undone.slice(0, -1) } : { base, done, undone };
}

/**
 * Reads a history from JSON. Every step of it is tried: each takes out what is there. O(what is sent)
 * @throws {RecipeError} if it is not one, naming the place
 */
export function parseHistory(value: unknown): History {
  if (!isObject(value)) throw new RecipeError("", "a history is an object");
  const first = objectAt(value.base, "/base");
  const base = {
    kept: parseStretches(first.kept, "/base/kept"),
    // An earlier version knew gains alone, and kept them beside.
    dress: parseDress(objectAt(first.dress ?? { gains: first.gains }, "/base/dress"), "/base/dress"),
  };
  const done = parseSteps(value.done, "/done");
  const undone = parseSteps(value.undone, "/undone");
  if (done.length + undone.length > MOST_STEPS) throw new RecipeError("/done", `at most ${MOST_STEPS} steps are kept`);
  const kept = [...base.kept];
  const dress = new DressTrial(base.dress);
  const follow = ({ change: { at, removed, added, swaps } }: Step, path: string): void => {
    const there = kept.splice(at, removed.length, ...added);
    if (there.length < removed.length || !there.every((k, i) => same(k, removed[i]!)))
      throw new RecipeError(path, "takes out what is not there");
    dress.swap(swaps ?? [], path);
  };
  done.forEach((step, i) => follow(step, `/done/${i}`));
  parseStretches(kept, "/done");
  for (let i = undone.length - 1; i >= 0; i--) follow(undone[i]!, `/undone/${i}`);
  parseStretches(kept, "/undone");
  return { base, done, undone };
}

function parseSteps(value: unknown, path: string): Step[] {
  if (!Array.isArray(value)) throw new RecipeError(path, "a list of steps is needed");
  if (value.length > MOST_STEPS) throw new RecipeError(path, `at most ${MOST_STEPS} steps are kept`);
  return value.map((step: unknown, i): Step => {
    const place = `${path}/${i}`;
    if (!isObject(step) || !isObject(step.change)) throw new RecipeError(place, "a step has a deed and a change");
    const { at, removed, added } = step.change;
    if (!Number.isSafeInteger(at) || (at as number) < 0) throw new RecipeError(`${place}/change/at`, "is no place");
    const list = (part: unknown, name: string) => parseStretches(part, `${place}/change/${name}`, { empty: true });
    const swaps = parseSwaps(step.change, `${place}/change`);
    const change = {
      at: at as number,
      removed: list(removed, "removed"),
      added: list(added, "added"),
      ...(swaps.length > 0 && { swaps }),
    };
    return { deed: parseDeed(step.deed, `${place}/deed`), change };
  });
}

function parseSwaps({ swaps, gains }: Record<string, unknown>, path: string): Swap[] {
  if (isObject(gains)) {
    // An earlier version knew gains alone, all of them at once.
    const [before, after] = [gains.before, gains.after].map((g) => parseDress({ gains: g }, `${path}/gains`));
    return swapsBetween(before!, after!);
  }
  if (swaps === undefined) return [];
  return listAt(swaps, `${path}/swaps`, MOST_SWAPS, (value, place) => {
    const swap = objectAt(value, place);
    const facet = oneOfAt(swap.facet, `${place}/facet`, FACETS);
    const read = (thing: unknown) => readPut(facet, String(swap.id), thing ?? null, place).value;
    return { facet, id: String(swap.id), before: read(swap.before), after: read(swap.after) };
  });
}

function parseDeed(value: unknown, path: string): Told {
  if (!isObject(value)) throw new RecipeError(path, "a deed is an object");
  if (value.do === "as-recorded") return { do: "as-recorded" };
  if (value.do === "as-published") {
    const { revision } = value;
    if (!Number.isSafeInteger(revision) || (revision as number) < 1)
      throw new RecipeError(`${path}/revision`, "is no revision");
    return { do: "as-published", revision: revision as number };
  }
  if (value.do === "bring-in") return { do: "bring-in", take: parseTake(value.take, `${path}/take`) };
  if (value.do === "only") return { do: "only", take: parseTake(value.take, `${path}/take`) };
  if (value.do === "order") {
    if (!Array.isArray(value.takes) || value.takes.length > MOST_TAKES)
      throw new RecipeError(`${path}/takes`, "a list of takes is needed");
    return { do: "order", takes: value.takes.map((take, i) => parseTake(take, `${path}/takes/${i}`)) };
  }
  if (value.do === "gain") return { do: "dress", facet: "gains" };
  if (value.do === "dress") return { do: "dress", facet: oneOfAt(value.facet, `${path}/facet`, FACETS) };
  if (value.do !== "leave-out" && value.do !== "put-back") throw new RecipeError(`${path}/do`, "is not known");
  const [{ from, to }] = parseStretches([value], path) as [Range];
  return { do: value.do, from, to };
}

function parseTake(value: unknown, path: string): number {
  if (!Number.isSafeInteger(value) || (value as number) < 1 || (value as number) > MOST_TAKES)
    throw new RecipeError(path, "is no take");
  return value as number;
}

const same = (a: Range, b: Range) => a.from === b.from && a.to === b.to;
