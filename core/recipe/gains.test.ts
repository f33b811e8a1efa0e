import { describe, expect, it } from "vitest";
import { closedAt, recipeOf, type Shown } from "./edits";
import { parseGains, sameGains, withGain } from "./gains";
import { act, begun, changed, inverse, parseHistory, redo, shownBy, undo } from "./history";
import { parseRecipe, withTake } from "./recipe";
import { RecipeError } from "./recipe-error";

const take = { from: 0, to: 60_000_000 };
const asRecorded: Shown = { kept: [take], gains: {} };

describe("gains", () => {
  it("are kept in tenths, within what makes sense, and not at all where nothing is changed", () => {
    const gains = withGain(withGain({}, "microphone", 5.234), "sound", -40);
    expect(gains).toEqual({ microphone: 5.2, sound: -12 });
    expect(withGain(gains, "microphone", 0.04)).toEqual({ sound: -12 });
    expect([sameGains({}, { sound: 0 }), sameGains({}, gains)]).toEqual([true, false]);
  });

  it("belong to a recipe, and stay with another take", () => {
    const recipe = recipeOf([take], { microphone: 4 });
    expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
    expect(recipeOf([take])).not.toHaveProperty("gains");
    const more = withTake(recipe, take.to, 2);
    expect([more.gains, closedAt(more, more.kept[1]!.from + 1e6)]).toMatchObject([{ microphone: 4 }, [take, {}]]);
    for (const [wrong, path] of [
      [[], "/gains"],
      [{ camera: 3 }, "/gains/camera"],
      [{ sound: 30 }, "/gains/sound"],
      [{ sound: Number.NaN }, "/gains/sound"],
      [{ sound: "3" }, "/gains/sound"],
    ] as const) {
      expect(() => parseGains(wrong, "/gains")).toThrow(RecipeError);
      expect(() => parseRecipe({ ...recipe, gains: wrong })).toThrow(path);
    }
  });

  it("are steps of an edit like others: undone, done again, kept through JSON, gone with all that was done", () => {
    let history = act(begun(asRecorded), asRecorded, { do: "gain", track: "microphone", decibels: 6 }, [take]);
    const louder = shownBy(history);
    expect(louder).toEqual({ kept: [take], gains: { microphone: 6 } });
    expect(act(history, louder, { do: "gain", track: "microphone", decibels: 6 }, [take])).toBe(history);
    history = act(history, louder, { do: "leave-out", from: 0, to: 1e6 }, [take]);
    history = act(history, shownBy(history), { do: "gain", track: "sound", decibels: -3 }, [take]);
    const last = history.done.at(-1)!.change;
    expect(changed(changed(shownBy(history), inverse(last)), last)).toEqual(shownBy(history));
    const read = parseHistory(JSON.parse(JSON.stringify(history)));
    expect(shownBy(undo(undo(read)))).toEqual(louder);
    expect(shownBy(redo(redo(undo(undo(read)))))).toEqual(shownBy(history));
    const reset = act(read, shownBy(read), { do: "as-recorded" }, [take]);
    expect([shownBy(reset), shownBy(undo(reset))]).toEqual([asRecorded, shownBy(history)]);
    const zero = { deed: { do: "gain", track: "sound", decibels: 0 }, change: { at: 0, removed: [], added: [] } };
    expect(parseHistory({ base: asRecorded, done: [zero], undone: [] }).done[0]!.deed).toEqual(zero.deed);
    const wrong = { ...zero, deed: { do: "gain", track: "camera", decibels: 1 } };
    expect(() => parseHistory({ base: asRecorded, done: [wrong], undone: [] })).toThrow("/done/0/deed");
  });
});
