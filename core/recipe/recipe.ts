import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";

/** One stretch that is kept of one take. `to` is null while the end is not known yet (the take is still growing). */
export interface Kept {
  take: string;
  from: Micros;
  to: Micros | null;
}

/** What a recording shows, as data. Shown time is the kept stretches one after the other. */
export interface Recipe {
  version: 1;
  kept: Kept[];
}

/** A recipe is refused with one of these. `path` says where, in JSON Pointer form (RFC 6901). */
export class RecipeError extends Error {
  constructor(
    readonly path: string,
    message: string,
  ) {
    super(`${path}: ${message}`);
    this.name = "RecipeError";
  }
}

/** The recipe of a fresh recording: all of its one take. */
export function wholeTake(take: string): Recipe {
  return { version: 1, kept: [{ take, from: 0, to: null }] };
}

/**
 * Reads a recipe from JSON.
 * @throws {RecipeError} if it is not one, naming the place.
 */
export function parseRecipe(value: unknown): Recipe {
  if (!isObject(value)) throw new RecipeError("", "a recipe is an object");
  if (value.version !== 1) throw new RecipeError("/version", "only version 1 is known");
  if (!Array.isArray(value.kept) || value.kept.length === 0)
    throw new RecipeError("/kept", "at least one kept stretch is needed");
  const kept = value.kept.map((item: unknown, i): Kept => {
    if (!isObject(item)) throw new RecipeError(`/kept/${i}`, "a kept stretch is an object");
    const { take, from, to } = item;
    if (typeof take !== "string" || take === "") throw new RecipeError(`/kept/${i}/take`, "a take id is needed");
    if (!isMoment(from)) throw new RecipeError(`/kept/${i}/from`, "whole microseconds from 0 are needed");
    if (to !== null && (!isMoment(to) || to <= from))
      throw new RecipeError(`/kept/${i}/to`, "must be after `from`, or null");
    if (to === null && i !== (value.kept as unknown[]).length - 1)
      throw new RecipeError(`/kept/${i}/to`, "only the last stretch may be open");
    return { take, from, to };
  });
  return { version: 1, kept };
}

/** Source time of a take → shown time; null where the recipe does not show that moment. The first showing wins. */
export function toShown(recipe: Recipe, take: string, source: Micros): Micros | null {
  let before = 0;
  for (const k of recipe.kept) {
    if (k.take === take && source >= k.from && (k.to === null || source < k.to)) return before + source - k.from;
    before += (k.to ?? Infinity) - k.from;
  }
  return null;
}

/** Shown time → the take and its source time; null past the end. */
export function toSource(recipe: Recipe, shown: Micros): { take: string; source: Micros } | null {
  let before = 0;
  for (const k of recipe.kept) {
    const length = (k.to ?? Infinity) - k.from;
    if (shown >= before && shown < before + length) return { take: k.take, source: k.from + shown - before };
    before += length;
  }
  return null;
}

/** What is kept of one take, in the order shown; an open end becomes `end`. */
export function keptOf(recipe: Recipe, take: string, end: Micros): Range[] {
  return recipe.kept.filter((k) => k.take === take).map((k) => ({ from: k.from, to: k.to ?? end }));
}

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === "object" && v !== null && !Array.isArray(v);
const isMoment = (v: unknown): v is Micros => Number.isSafeInteger(v) && (v as number) >= 0;
