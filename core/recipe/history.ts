import type { Range } from "../time/ranges";
import { leftOut, putBack, type Stretches } from "./edits";
import { RecipeError, parseStretches } from "./recipe";

/** What is done to what is shown, in one press. Stretches are of the source line. */
export type Deed = ({ do: "leave-out" | "put-back" } & Range) | { do: "as-recorded" };

/** From `at` on, these stretches were taken out of the list and those put in: turned round, it is its own inverse. */
export interface Change {
  at: number;
  removed: Range[];
  added: Range[];
}

/** A deed, and what it came to. */
export interface Step {
  deed: Deed;
  change: Change;
}

/** An edit as it is worked on: what it began from, what was done, and what was undone and can be done again. */
export interface History {
  base: Range[];
  done: Step[];
  undone: Step[];
}

/** What one draft remembers: more than a person does in a week. */
export const MOST_STEPS = 5_000;

/**
 * What a deed makes of stretches.
 * @param takes all of each take that is there
 * @throws {RangeError} for what leaves nothing
 */
export function doneTo(kept: Stretches, deed: Deed, takes: Stretches): Range[] {
  const next =
    deed.do === "leave-out"
      ? leftOut(kept, deed)
      : deed.do === "put-back"
        ? putBack(kept, deed)
        : takes.filter(({ from, to }) => to > from).map(({ from, to }) => ({ from, to }));
  if (next.length === 0) throw new RangeError("an edit leaves something to show");
  return next;
}

/** The smallest change that makes one list of the other; null where they are the same. O(n) */
export function changeBetween(before: Stretches, after: Stretches): Change | null {
  let at = 0;
  while (at < before.length && at < after.length && same(before[at]!, after[at]!)) at++;
  let [a, b] = [before.length, after.length];
  while (a > at && b > at && same(before[a - 1]!, after[b - 1]!)) [a, b] = [a - 1, b - 1];
  return a === at && b === at ? null : { at, removed: before.slice(at, a), added: after.slice(at, b) };
}

/** What a change makes of stretches. */
export const changed = (kept: Stretches, { at, removed, added }: Change): Range[] =>
  kept.toSpliced(at, removed.length, ...added);

/** The change that takes another one back. */
export const inverse = ({ at, removed, added }: Change): Change => ({ at, removed: added, added: removed });

export const begun = (base: Stretches): History => ({ base: [...base], done: [], undone: [] });

/** What is shown after all that was done. O(steps · n): keep it while steps are added. */
export const shownBy = ({ base, done }: History): Range[] =>
  done.reduce<Range[]>((kept, s) => changed(kept, s.change), base);

/**
 * One deed more. What was undone before it cannot be done again.
 * @param kept what is shown now
 * @returns the same history where the deed changes nothing
 */
export function act(history: History, kept: Stretches, deed: Deed, takes: Stretches): History {
  const change = changeBetween(kept, doneTo(kept, deed, takes));
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
  const base = parseStretches(value.base, "/base");
  const done = parseSteps(value.done, "/done");
  const undone = parseSteps(value.undone, "/undone");
  if (done.length + undone.length > MOST_STEPS) throw new RecipeError("/done", `at most ${MOST_STEPS} steps are kept`);
  const kept = [...base];
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
    const { at, removed, added } = step.change;
    if (!Number.isSafeInteger(at) || (at as number) < 0) throw new RecipeError(`${place}/change/at`, "is no place");
    const list = (part: unknown, name: string) => parseStretches(part, `${place}/change/${name}`, { empty: true });
    const change = { at: at as number, removed: list(removed, "removed"), added: list(added, "added") };
    return { deed: parseDeed(step.deed, `${place}/deed`), change };
  });
}

function parseDeed(value: unknown, path: string): Deed {
  if (!isObject(value)) throw new RecipeError(path, "a deed is an object");
  if (value.do === "as-recorded") return { do: "as-recorded" };
  if (value.do !== "leave-out" && value.do !== "put-back") throw new RecipeError(`${path}/do`, "is not known");
  const [{ from, to }] = parseStretches([value], path) as [Range];
  return { do: value.do, from, to };
}

const same = (a: Range, b: Range) => a.from === b.from && a.to === b.to;
const isObject = (v: unknown): v is Record<string, unknown> => typeof v === "object" && v !== null && !Array.isArray(v);
