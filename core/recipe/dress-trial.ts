import { inOrder } from "./over";
import type { Range } from "../time/ranges";
import { isNothing, mostOf, OVERS, sameThing, type Dress, type Facet, type Facets, type Swap } from "./dress";
import { RecipeError } from "./recipe-error";

type Thing = Facets[Facet];

/**
 * Tries steps that change things of a recipe, one after the other. A step costs what it changes, and not what is
 * there: what comes from outside may have thousands of both.
 */
export class DressTrial {
  #things = new Map<Facet, Map<string, Thing>>();
  /** where stretches of a kind lie, in order */
  #stretches = new Map<Facet, Range[]>();

  constructor(dress: Dress) {
    for (const [facet, things] of Object.entries(dress) as [Facet, Record<string, Thing>][]) {
      this.#things.set(facet, new Map(Object.entries(things)));
      if (OVERS.has(facet)) this.#stretches.set(facet, inOrder(things as Record<string, Range>));
    }
  }

  /**
   * Puts what swaps say.
   * @throws {RecipeError} where something was another thing, too many are there, or stretches overlap
   */
  swap(swaps: readonly Swap[], path: string): void {
    for (const { facet, id, before } of swaps)
      if (!sameThing(this.#things.get(facet)?.get(id) ?? null, before))
        throw new RecipeError(path, "changes what is another thing");
    // Said twice in one step, the last word counts.
    const last = [...new Map(swaps.map((swap) => [`${swap.facet} ${swap.id}`, swap])).values()];
    // All room is made first: one may come to where another one lay.
    for (const { facet, id } of last) this.#remove(facet, id);
    for (const { facet, id, after } of last) if (!isNothing(facet, after)) this.#put(facet, id, after!, path);
    for (const { facet } of last)
      if ((this.#things.get(facet)?.size ?? 0) > mostOf(facet))
        throw new RecipeError(`${path}/${facet}`, `at most ${mostOf(facet)} are kept`);
  }

  /** What is there now. Kinds of which nothing is there are not named. */
  get dress(): Dress {
    const all = [...this.#things].filter(([, things]) => things.size > 0);
    return Object.fromEntries(all.map(([facet, things]) => [facet, Object.fromEntries(things)])) as Dress;
  }

  #of(facet: Facet): Map<string, Thing> {
    let things = this.#things.get(facet);
    if (!things) this.#things.set(facet, (things = new Map()));
    return things;
  }

  #remove(facet: Facet, id: string): void {
    const things = this.#of(facet);
    const thing = things.get(id);
    if (thing === undefined) return;
    things.delete(id);
    const stretches = this.#stretches.get(facet);
    if (stretches) stretches.splice(placeOf(stretches, (thing as Range).from), 1);
  }

  #put(facet: Facet, id: string, thing: Thing, path: string): void {
    const things = this.#of(facet);
    if (OVERS.has(facet)) {
      const stretch = thing as Range;
      if (id !== String(stretch.from))
        throw new RecipeError(`${path}/${facet}/${id}`, "is named after where it begins");
      const stretches = this.#stretches.get(facet) ?? [];
      this.#stretches.set(facet, stretches);
      const place = placeOf(stretches, stretch.from);
      const [before, after] = [stretches[place - 1], stretches[place]];
      if ((before && before.to > stretch.from) || (after && after.from < stretch.to))
        throw new RecipeError(`${path}/${facet}/${id}`, "overlaps another one");
      stretches.splice(place, 0, stretch);
    }
    things.set(id, thing);
  }
}

/** The place of the first stretch that begins at a moment or after it. */
function placeOf(stretches: readonly Range[], from: number): number {
  let [low, high] = [0, stretches.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (stretches[middle]!.from < from) low = middle + 1;
    else high = middle;
  }
  return low;
}
