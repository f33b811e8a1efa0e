import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { dressed, parseDress, putsOf, type Dress, type Swap } from "./dress";
import { DressTrial } from "./dress-trial";
import { parseHistory, shownBy } from "./history";
import { RecipeError } from "./recipe-error";

const whole = { from: 0, to: 60_000_000 };
const zoomAt = (from: number, to: number) => ({ from, to, place: { x: 0, y: 0, width: 0.5, height: 0.5 } });

/** What a trial does, done by looking through everything at every step. */
function slowly(dress: Dress, swaps: readonly Swap[]): Dress {
  for (const { facet, id, before } of swaps)
    if (JSON.stringify(dress[facet]?.[id] ?? null) !== JSON.stringify(before)) throw new RecipeError("", "other");
  const next = dressed(dress, putsOf(swaps));
  return parseDress(next, "");
}

const outcome = <T>(work: () => T): T | "refused" => {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof RecipeError)) throw error;
    return "refused";
  }
};

describe("steps that are tried", () => {
  it("come to what looking through everything comes to, refusals included", () => {
    let [taken, refused] = [0, 0];
    for (let seed = 0; seed < 300; seed++) {
      const pick = random(seed);
      let dress: Dress = {};
      for (let n = 0; n < 30; n++) {
        const swaps = Array.from({ length: 1 + pick(3) }, (): Swap => {
          const from = pick(20);
          const id = pick(15) === 0 ? "1000" : String(from);
          const before = pick(20) === 0 ? null : (dress.zooms?.[id] ?? null);
          return { facet: "zooms", id, before, after: pick(3) === 0 ? null : zoomAt(from, from + 1 + pick(4)) };
        });
        // A trial that has refused is thrown away, as the history is that it was made for.
        const trial = new DressTrial(dress);
        const quick = outcome(() => {
          trial.swap(swaps, "");
          return trial.dress;
        });
        const slow = outcome(() => slowly(dress, swaps));
        expect(quick).toEqual(slow);
        if (slow === "refused") refused++;
        else [dress, taken] = [slow, taken + 1];
      }
    }
    expect(Math.min(taken, refused)).toBeGreaterThan(1_000);
  });

  // Looked through at every step, this takes minutes.
  it("cost what is sent, however much is there: thousands of steps over thousands of things", () => {
    const zooms = Object.fromEntries(
      Array.from({ length: 1_000 }, (_, n) => [String(n * 10), zoomAt(n * 10, n * 10 + 10)]),
    );
    const done = Array.from({ length: 5_000 }, (_, n) => {
      const from = (n % 1_000) * 10;
      const round = Math.floor(n / 1_000);
      const higher = (by: number) => ({
        from,
        to: from + 10,
        place: { x: 0, y: 0, width: 0.5, height: 0.5 + by / 100 },
      });
      const swaps = [{ facet: "zooms", id: String(from), before: higher(round), after: higher(round + 1) }];
      return { deed: { do: "dress", facet: "zooms" }, change: { at: 0, removed: [], added: [], swaps } };
    });
    const history = parseHistory({ base: { kept: [whole], dress: { zooms } }, done, undone: [] });
    expect(shownBy(history).dress.zooms?.["9990"]?.place.height).toBe(0.55);
  });
});
