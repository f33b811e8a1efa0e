import { describe, expect, it } from "vitest";
import type { Card } from "../layout/card";
import type { Mark } from "../layout/mark";
import { AS_IT_IS } from "../layout/view";
import { dressed, parseDress, FACETS, putsOf, swapsBetween, type Dress, type Put } from "./dress";
import { closedAt, dressOf, recipeOf, type Shown } from "./edits";
import { act, begun, changed, inverse, parseHistory, redo, shownBy, undo } from "./history";
import { parseRecipe, withTake } from "./recipe";
import { RecipeError } from "./recipe-error";

const take = { from: 0, to: 60_000_000 };
const asRecorded: Shown = { kept: [take], dress: {} };
const mark: Mark = { tool: "box", colour: "clay", path: [0, 0, 0, 1, 1, 0], text: "", staysMs: null, clearedAt: null };
const card: Card = {
  style: "arch",
  title: "T",
  name: "N",
  date: "D",
  next: "Go",
  url: "https://a.example/",
  stays: 3e6,
};
const arranged = { scene: "beside", place: "left", size: "small", shape: "tile", fade: 250_000 } as const;

/** One thing of each kind. */
const full: Dress = {
  gains: { microphone: 4 },
  suppression: { microphone: true },
  louder: { "0": { from: 0, to: 1e6, by: { sound: -60 } } },
  scenes: { "0": { from: 0, to: 2e6, arranged } },
  zooms: { "1000000": { from: 1e6, to: 2e6, place: { x: 0.2, y: 0.2, width: 0.5, height: 0.5 } } },
  views: { camera: { ...AS_IT_IS, turn: 90, tilt: -2 } },
  marks: { a: { from: 0, to: 1e6, mark } },
  cards: { opening: card },
  fades: { in: 1e6 },
  music: { bed: { tune: "dew", decibels: -3, under: -10 } },
};

describe("what a recipe says besides what is kept", () => {
  it("is read as it was written, of every kind", () => {
    expect(Object.keys(full).sort()).toEqual([...FACETS].sort());
    expect(parseDress(JSON.parse(JSON.stringify(full)), "")).toEqual(full);
    const recipe = recipeOf([take], full);
    expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
    expect(dressOf(recipe)).toEqual(full);
    expect(recipeOf([take])).toEqual({ version: 2, kept: [take] });
    const more = withTake(recipe, take.to, 2);
    expect([dressOf(more), closedAt(more, more.kept[1]!.from + 1e6)]).toMatchObject([full, [take, {}]]);
  });

  it.each([
    ["/gains", { gains: [] }],
    ["/gains/camera", { gains: { camera: 3 } }],
    ["/gains/sound", { gains: { sound: 30 } }],
    ["/gains/sound", { gains: { sound: "3" } }],
    ["/suppression/sound", { suppression: { sound: true } }],
    ["/suppression/microphone", { suppression: { microphone: "yes" } }],
    ["/louder/0/by/camera", { louder: { 0: { from: 0, to: 1, by: { camera: 1 } } } }],
    ["/louder/0/by/sound", { louder: { 0: { from: 0, to: 1, by: { sound: -61 } } } }],
    ["/scenes/5", { scenes: { 5: { from: 4, to: 9, arranged } } }],
    ["/scenes/0/arranged/scene", { scenes: { 0: { from: 0, to: 9, arranged: { ...arranged, scene: "above" } } } }],
    ["/scenes/8", { scenes: { 0: { from: 0, to: 9, arranged }, 8: { from: 8, to: 12, arranged } } }],
    ["/zooms/0/place/x", { zooms: { 0: { from: 0, to: 9, place: { x: 0.6, y: 0, width: 0.5, height: 0.5 } } } }],
    ["/zooms/0/place/width", { zooms: { 0: { from: 0, to: 9, place: { x: 0, y: 0, width: 0, height: 1 } } } }],
    ["/views/microphone", { views: { microphone: AS_IT_IS } }],
    ["/views/screen/turn", { views: { screen: { ...AS_IT_IS, turn: 45 } } }],
    ["/views/screen/tilt", { views: { screen: { ...AS_IT_IS, tilt: 16 } } }],
    ["/marks/a/mark/path", { marks: { a: { from: 0, to: 9, mark: { ...mark, path: [0, 2, 0] } } } }],
    ["/marks/a/mark/path", { marks: { a: { from: 0, to: 9, mark: { ...mark, path: [0, 0, 0, 1, 1, -1] } } } }],
    ["/marks/a/mark", { marks: { a: { from: 0, to: 9, mark: { ...mark, staysMs: 5 } } } }],
    ["/marks/a b", { marks: { "a b": { from: 0, to: 9, mark } } }],
    ["/marks/__proto__", JSON.parse(`{"marks":{"__proto__":{"from":0,"to":9}}}`) as Record<string, unknown>],
    ["/cards/middle", { cards: { middle: card } }],
    ["/cards/closing/url", { cards: { closing: { ...card, url: "javascript:alert(1)" } } }],
    ["/cards/closing/title", { cards: { closing: { ...card, title: "x".repeat(121) } } }],
    ["/cards/closing/stays", { cards: { closing: { ...card, stays: 1 } } }],
    ["/fades/out", { fades: { out: -1 } }],
    ["/music/bed/tune", { music: { bed: { tune: "march", decibels: 0, under: 0 } } }],
    ["/music/bed/under", { music: { bed: { tune: "dew", decibels: 0, under: 1 } } }],
  ])("is refused at %s", (path, wrong) => {
    expect(() => parseDress(wrong, "")).toThrow(RecipeError);
    expect(() => parseRecipe({ version: 2, kept: [take], ...wrong })).toThrow(path);
  });

  it("has at most so many things of a kind", () => {
    const marks = Object.fromEntries(Array.from({ length: 201 }, (_, i) => [`m${i}`, { from: 0, to: 9, mark }]));
    expect(() => parseDress({ marks }, "")).toThrow("/marks");
  });

  it("is changed thing by thing, and each change is its own inverse", () => {
    const puts: Put[] = [
      { facet: "gains", id: "microphone", value: 0 },
      { facet: "marks", id: "b", value: { from: 0, to: 5, mark } },
      { facet: "cards", id: "opening", value: null },
    ];
    const after = dressed(full, puts);
    expect([after.gains, after.cards, Object.keys(after.marks!)]).toEqual([undefined, undefined, ["a", "b"]]);
    const swaps = swapsBetween(full, after);
    expect(swaps.map(({ facet, id }) => `${facet} ${id}`).sort()).toEqual([
      "cards opening",
      "gains microphone",
      "marks b",
    ]);
    expect(dressed(full, putsOf(swaps))).toEqual(after);
    const back = swaps.map((s) => ({ ...s, before: s.after, after: s.before }));
    expect(dressed(after, putsOf(back))).toEqual(full);
    expect(swapsBetween(full, JSON.parse(JSON.stringify(full)) as Dress)).toEqual([]);
    // As a hand made it and as it was read are the same, whatever comes first in it.
    const { from, to, ...rest } = full.zooms!["1000000"]!;
    expect(swapsBetween(full, { ...full, zooms: { "1000000": { ...rest, from, to } } })).toEqual([]);
    const other = { ...full, marks: { a: { from: 0, to: 1e6, mark: { ...mark, path: [0, 0, 0] } } } };
    expect(swapsBetween(full, other).map(({ facet }) => facet)).toEqual(["marks"]);
  });

  it("is a step of an edit like others: undone, done again, kept through JSON, gone with all that was done", () => {
    const louder: Put[] = [{ facet: "gains", id: "microphone", value: 6 }];
    let history = act(begun(asRecorded), asRecorded, { do: "dress", puts: louder }, [take]);
    const first = shownBy(history);
    expect(first).toEqual({ kept: [take], dress: { gains: { microphone: 6 } } });
    expect(act(history, first, { do: "dress", puts: louder }, [take])).toBe(history);
    history = act(history, first, { do: "leave-out", from: 0, to: 1e6 }, [take]);
    const drawn: Put[] = [{ facet: "marks", id: "a", value: { from: 2e6, to: 3e6, mark } }];
    history = act(history, shownBy(history), { do: "dress", puts: drawn }, [take]);
    const last = history.done.at(-1)!.change;
    expect(changed(changed(shownBy(history), inverse(last)), last)).toEqual(shownBy(history));
    const read = parseHistory(JSON.parse(JSON.stringify(history)));
    expect(read).toEqual(history);
    expect(shownBy(undo(undo(read)))).toEqual(first);
    expect(shownBy(redo(redo(undo(undo(read)))))).toEqual(shownBy(history));
    const reset = act(read, shownBy(read), { do: "as-recorded" }, [take]);
    expect([shownBy(reset), shownBy(undo(reset))]).toEqual([asRecorded, shownBy(history)]);
  });

  it("is refused in a step that changes what is another thing, or has too much of it", () => {
    const step = (swap: object) => ({
      base: asRecorded,
      done: [{ deed: { do: "dress", facet: "gains" }, change: { at: 0, removed: [], added: [], swaps: [swap] } }],
      undone: [],
    });
    expect(() => parseHistory(step({ facet: "gains", id: "sound", before: 3, after: 4 }))).toThrow("/done/0");
    expect(() => parseHistory(step({ facet: "gains", id: "camera", before: null, after: 4 }))).toThrow(
      "/done/0/change/swaps/0",
    );
    expect(() => parseHistory(step({ facet: "paint", id: "x", before: null, after: 4 }))).toThrow("facet");
  });

  it("is read from drafts of the version that knew gains alone", () => {
    const gains = (before: object, after: object) => ({ at: 0, removed: [], added: [], gains: { before, after } });
    const old = {
      base: { kept: [take], gains: { sound: 2 } },
      done: [
        {
          deed: { do: "gain", track: "microphone", decibels: 4 },
          change: gains({ sound: 2 }, { sound: 2, microphone: 4 }),
        },
      ],
      undone: [],
    };
    const read = parseHistory(old);
    expect(shownBy(read)).toEqual({ kept: [take], dress: { gains: { sound: 2, microphone: 4 } } });
    expect(shownBy(undo(read)).dress).toEqual({ gains: { sound: 2 } });
  });
});
