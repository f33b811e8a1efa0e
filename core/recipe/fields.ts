import { RecipeError } from "./recipe-error";

/** Values of JSON, each read with its place, so that what is wrong can be found. All throw {RecipeError}. */

export type Fields = Readonly<Record<string, unknown>>;

export const isObject = (v: unknown): v is Record<string, unknown> =>
  typeof v === "object" && v !== null && !Array.isArray(v);

export function objectAt(value: unknown, path: string): Fields {
  if (!isObject(value)) throw new RecipeError(path, "an object is needed");
  return value;
}

interface Bounds {
  least: number;
  most: number;
  whole?: boolean;
}

export function numberAt(value: unknown, path: string, { least, most, whole = false }: Bounds): number {
  if (typeof value !== "number" || !(value >= least && value <= most) || (whole && !Number.isSafeInteger(value)))
    throw new RecipeError(path, `${whole ? "a whole number" : "a number"} from ${least} to ${most} is needed`);
  return value;
}

export function textAt(value: unknown, path: string, most: number): string {
  if (typeof value !== "string" || value.length > most)
    throw new RecipeError(path, `text of at most ${most} characters is needed`);
  return value;
}

export function oneOfAt<const T>(value: unknown, path: string, choices: readonly T[]): T {
  const found = choices.find((choice) => choice === value);
  if (found === undefined) throw new RecipeError(path, `one of ${choices.join(", ")} is needed`);
  return found;
}

export function listAt<T>(value: unknown, path: string, most: number, each: (v: unknown, path: string) => T): T[] {
  if (!Array.isArray(value) || value.length > most) throw new RecipeError(path, `a list of at most ${most} is needed`);
  return value.map((item, i) => each(item, `${path}/${i}`));
}
