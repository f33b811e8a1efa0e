import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { parseDress, type Dress } from "./dress";
import { isObject } from "./fields";
import { RecipeError } from "./recipe-error";
import { MOST_TAKES, startOfTake, takeOf, TAKE_SPAN } from "./source-line";

/**
 * A stretch that is kept, on the source line. It lies within one take. `to` is null for all of the rest of its take,
 * while that is still growing.
 */
export interface Kept {
  from: Micros;
  to: Micros | null;
}

/** What a recording shows, as data. Shown time is the kept stretches one after the other. */
export interface Recipe extends Dress {
  version: 2;
  kept: Kept[];
}

/** More stretches than any edit of a day has. */
const MOST_KEPT = 10_000;

/** The recipe of a fresh recording: all of its first take. */
export function firstTake(): Recipe {
  return { version: 2, kept: [{ from: 0, to: null }] };
}

/**
 * What was shown before, and after it all of another take as it grows.
 * @param end where the last take that is shown ends on the source line: what is open is closed there
 */
export function withTake(recipe: Recipe, end: Micros, position: number): Recipe {
  const closed = recipe.kept.map(({ from, to }) => ({ from, to: to ?? end })).filter(({ from, to }) => to > from);
  return { ...recipe, kept: [...closed, { from: startOfTake(position), to: null }] };
}

/**
 * Reads a recipe from JSON.
 * @throws {RecipeError} if it is not one, naming the place.
 */
export function parseRecipe(value: unknown): Recipe {
  if (!isObject(value)) throw new RecipeError("", "a recipe is an object");
  if (value.version !== 2) throw new RecipeError("/version", "only version 2 is known");
  return { version: 2, kept: parseKeptList(value.kept, "/kept"), ...parseDress(value, "") };
}

/**
 * Reads kept stretches that are all closed.
 * @param empty there may be none
 * @throws {RecipeError} if they are none, naming the place
 */
export function parseStretches(value: unknown, path: string, { empty = false } = {}): Range[] {
  if (empty && Array.isArray(value) && value.length === 0) return [];
  return parseKeptList(value, path).map(({ from, to }, i) => {
    if (to === null) throw new RecipeError(`${path}/${i}/to`, "an end is needed");
    return { from, to };
  });
}

function parseKeptList(value: unknown, path: string): Kept[] {
  if (!Array.isArray(value) || value.length === 0) throw new RecipeError(path, "at least one kept stretch is needed");
  if (value.length > MOST_KEPT) throw new RecipeError(path, `at most ${MOST_KEPT} stretches are kept`);
  const last = value.length - 1;
  const kept = value.map((item: unknown, i): Kept => parseKept(item, `${path}/${i}`, i === last));
  const inOrder = kept.map((k, i) => ({ ...k, i })).sort((a, b) => a.from - b.from);
  inOrder.forEach((k, n) => {
    const before = inOrder[n - 1];
    if (before && k.from < endOf(before)) throw new RecipeError(`${path}/${k.i}`, "overlaps another stretch");
  });
  return kept;
}

function parseKept(item: unknown, path: string, last: boolean): Kept {
  if (!isObject(item)) throw new RecipeError(path, "a kept stretch is an object");
  const { from, to } = item;
  if (!isMoment(from)) throw new RecipeError(`${path}/from`, "whole microseconds of the source line are needed");
  if (to === null && !last) throw new RecipeError(`${path}/to`, "only the last stretch may be open");
  if (to !== null && (!isMoment(to) || to <= from))
    throw new RecipeError(`${path}/to`, "must be after `from`, or null");
  if (to !== null && takeOf(from) !== takeOf(to - 1))
    throw new RecipeError(`${path}/to`, "a stretch lies within one take");
  return { from, to };
}

/** An open stretch reaches at most to where the next take would begin. */
const endOf = ({ from, to }: Kept) => to ?? startOfTake(takeOf(from) + 1);
const isMoment = (v: unknown): v is Micros =>
  Number.isSafeInteger(v) && (v as number) >= 0 && (v as number) <= MOST_TAKES * TAKE_SPAN;
