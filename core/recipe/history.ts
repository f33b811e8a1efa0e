import type { Range } from "../time/ranges";
import { inOrderOf, leftOut, putBack, type Shown, type Stretches } from "./edits";
import { parseGains, sameGains, withGain, type Gained, type Gains } from "./gains";
import { parseStretches } from "./recipe";
import { MOST_TAKES, takeOf } from "./source-line";
import { RecipeError } from "./recipe-error";

/** What is done to what is shown, in one press. Stretches are of the source line. */
export type Deed =
  | ({ do: "leave-out" | "put-back" } & Range)
  | { do: "as-recorded" }
  /** the others are left out, and this one is shown as far as it was, or all of it where none of it was */
  | { do: "only"; take: number }
  /** the takes that are shown, one after the other in this order */
  | { do: "order"; takes: number[] }
  /** so many dB louder than it was recorded */
  | { do: "gain"; track: Gained; decibels: number };

/**
 * From `at` on, these stretches were taken out of the list and those put in, and other gains are in force: turned
 * round, it is its own inverse.
 */
export interface Change {
  at: number;
  removed: Range[];
  added: Range[];
  gains?: { before: Gains; after: Gains };
}

/** A deed, and what it came to. */
export interface Step {
  deed: Deed;
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

/**
 * What a deed makes of what is shown.
 * @param takes all of each take that is there
 * @throws {RangeError} for what leaves nothing
 */
export function doneTo({ kept, gains }: Shown, deed: Deed, takes: Stretches): Shown {
  if (deed.do === "gain") return { kept, gains: withGain(gains, deed.track, deed.decibels) };
  const next = stretchesAfter(kept, deed, takes);
  if (next.length === 0) throw new RangeError("an edit leaves something to show");
  return { kept: next, gains: deed.do === "as-recorded" ? {} : gains };
}

function stretchesAfter(kept: Stretches, deed: Exclude<Deed, { do: "gain" }>, takes: Stretches): Range[] {
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
    case "as-recorded":
      return copies(takes);
  }
}

/** The smallest change that makes one of the other; null where they are the same. O(n) */
export function changeBetween({ kept: before, gains }: Shown, { kept: after, gains: next }: Shown): Change | null {
  let at = 0;
  while (at < before.length && at < after.length && same(before[at]!, after[at]!)) at++;
  let [a, b] = [before.length, after.length];
  while (a > at && b > at && same(before[a - 1]!, after[b - 1]!)) [a, b] = [a - 1, b - 1];
  const louder = sameGains(gains, next) ? null : { before: gains, after: next };
  if (a === at && b === at && !louder) return null;
  return { at, removed: before.slice(at, a), added: after.slice(at, b), ...(louder && { gains: louder }) };
}

/** What a change makes of what is shown. */
export const changed = ({ kept, gains }: Shown, { at, removed, added, gains: other }: Change): Shown => ({
  kept: kept.toSpliced(at, removed.length, ...added),
  gains: other?.after ?? gains,
});

/** The change that takes another one back. */
export const inverse = ({ at, removed, added, gains }: Change): Change => ({
  at,
  removed: added,
  added: removed,
  ...(gains && { gains: { before: gains.after, after: gains.before } }),
});

export const begun = ({ kept, gains }: Shown): History => ({ base: { kept: [...kept], gains }, done: [], undone: [] });

/** What is shown after all that was done. O(steps · n): keep it while steps are added. */
export const shownBy = ({ base, done }: History): Shown => done.reduce((shown, s) => changed(shown, s.change), base);

/**
 * One deed more. What was undone before it cannot be done again.
 * @param shown by the history now
 * @returns the same history where the deed changes nothing
 */
export function act(history: History, shown: Shown, deed: Deed, takes: Stretches): History {
  const change = changeBetween(shown, doneTo(shown, deed, takes));
  if (!change) return history;
  if (history.done.length >= MOST_STEPS) throw new RangeError(`a draft remembers ${MOST_STEPS} steps`);
  return { ...history, done: [...history.done, { deed, change }], undone: [] };
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
 * Reads a history from JSON. Every step of it is tried: each takes out what is there.
 * @throws {RecipeError} if it is not one, naming the place
 */
export function parseHistory(value: unknown): History {
  if (!isObject(value)) throw new RecipeError("", "a history is an object");
  if (!isObject(value.base)) throw new RecipeError("/base", "is what is shown at first");
  const base = {
    kept: parseStretches(value.base.kept, "/base/kept"),
    gains: parseGains(value.base.gains, "/base/gains"),
  };
  const done = parseSteps(value.done, "/done");
  const undone = parseSteps(value.undone, "/undone");
  if (done.length + undone.length > MOST_STEPS) throw new RecipeError("/done", `at most ${MOST_STEPS} steps are kept`);
  const kept = [...base.kept];
  const follow = ({ change: { at, removed, added } }: Step, path: string): void => {
    const there = kept.splice(at, removed.length, ...added);
    if (there.length < removed.length || !there.every((k, i) => same(k, removed[i]!)))
      throw new RecipeError(path, "takes out what is not there");
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
    const { at, removed, added, gains } = step.change;
    if (!Number.isSafeInteger(at) || (at as number) < 0) throw new RecipeError(`${place}/change/at`, "is no place");
    const list = (part: unknown, name: string) => parseStretches(part, `${place}/change/${name}`, { empty: true });
    const change = {
      at: at as number,
      removed: list(removed, "removed"),
      added: list(added, "added"),
      ...(isObject(gains) && {
        gains: {
          before: parseGains(gains.before, `${place}/change/gains/before`),
          after: parseGains(gains.after, `${place}/change/gains/after`),
        },
      }),
    };
    return { deed: parseDeed(step.deed, `${place}/deed`), change };
  });
}

function parseDeed(value: unknown, path: string): Deed {
  if (!isObject(value)) throw new RecipeError(path, "a deed is an object");
  if (value.do === "as-recorded") return { do: "as-recorded" };
  if (value.do === "only") return { do: "only", take: parseTake(value.take, `${path}/take`) };
  if (value.do === "order") {
    if (!Array.isArray(value.takes) || value.takes.length > MOST_TAKES)
      throw new RecipeError(`${path}/takes`, "a list of takes is needed");
    return { do: "order", takes: value.takes.map((take, i) => parseTake(take, `${path}/takes/${i}`)) };
  }
  if (value.do === "gain") {
    const [[track, decibels] = []] = Object.entries(parseGains({ [String(value.track)]: value.decibels }, path));
    // A gain of 0 is none.
    return { do: "gain", track: (track ?? value.track) as Gained, decibels: decibels ?? 0 };
  }
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
const isObject = (v: unknown): v is Record<string, unknown> => typeof v === "object" && v !== null && !Array.isArray(v);
