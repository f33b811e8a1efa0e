import { describe, expect, it } from "vitest";
import { changesInPlay, soundAt } from "../audio/sound-at";
import { alone, sceneAt, sceneOf, visibleIn, type SceneEvent } from "../layout/scene";
import { USUAL_ARRANGEMENT } from "../layout/layout";
import { arrangedScene, dressAsShown, holdingAt, marksOn, oversOn, rearranged, UNDRESSED } from "./as-shown";
import { recipeOf } from "./edits";
import { RecordedLine } from "./recorded-line";
import { ShownLine } from "./shown-line";

const S = 1_000_000;
const HD = { width: 1280, height: 720 };
/** Five seconds are left out in the middle. */
const line = new ShownLine(
  recipeOf([
    { from: 0, to: 10 * S },
    { from: 15 * S, to: 30 * S },
  ]),
  0,
);
const place = { x: 0, y: 0, width: 0.5, height: 0.5 };

describe("what an edit puts on, where it is shown", () => {
  it("is carried over cuts, on every line", () => {
    const zooms = { "8000000": { from: 8 * S, to: 17 * S, place }, "11000000": { from: 11 * S, to: 12 * S, place } };
    expect(oversOn(line, zooms).map(({ from, to }) => [from / S, to / S])).toEqual([
      [8, 10],
      [10, 12],
    ]);
    const recorded = new RecordedLine([{ from: 0, to: 30 * S }]);
    expect(oversOn(recorded, zooms).map(({ from, to }) => [from / S, to / S])).toEqual([
      [8, 17],
      [11, 12],
    ]);
    const mark = { tool: "text", colour: "ink", path: [0, 0, 0], text: "x", staysMs: null, clearedAt: null } as const;
    const drawn = marksOn(line, { a: { from: 14 * S, to: 16 * S, mark: { ...mark, path: [0, 0, 0] } } });
    expect(drawn).toMatchObject([{ id: "a", began: 10 * S, from: 10 * S, to: 11 * S }]);
    expect(dressAsShown(line, {})).toEqual(UNDRESSED);
    expect(holdingAt(oversOn(line, zooms), 10 * S)?.place).toEqual(place);
    expect(holdingAt([], 1)).toBeUndefined();
  });

  it("arranges a stretch, after which what was there goes on", () => {
    const events: SceneEvent[] = [
      { at: 0, ...sceneOf(HD, USUAL_ARRANGEMENT) },
      { at: 5 * S, ...alone("screen"), fade: 250_000 },
    ];
    const camera = { ...alone("camera"), fade: 0 };
    const over = rearranged(events, [
      { from: 4 * S, to: 6 * S, scene: camera },
      { from: 6 * S, to: 7 * S, scene: alone("screen") },
    ]);
    const seen = (at: number) =>
      sceneAt(over, at * S, { layers: [] })
        .layers.map((l) => l.track)
        .join("+");
    expect([1, 4, 5.5, 6.5, 7, 9].map(seen)).toEqual([
      "screen+camera",
      "camera",
      "camera",
      "screen",
      "screen",
      "screen",
    ]);
    expect(rearranged(events, [])).toEqual(events);
    // When each is seen, with the time that it takes to fade.
    const seconds = (track: "screen" | "camera") => visibleIn(over, track).map(({ from, to }) => [from / S, to / S]);
    expect(seconds("camera")).toEqual([[0, 6]]);
    expect(seconds("screen")[0]).toEqual([0, 4]);
    expect(seconds("screen")[1]![0]).toBe(6);
    const tile = { scene: "inset", place: "top", size: "small", shape: "tile", fade: 9 } as const;
    const { layers, fade } = arrangedScene(HD, tile);
    expect([layers[1]!.shape, fade]).toEqual(["tile", 9]);
    const { width, height } = layers[1]!.rect;
    expect((width * 1280) / (height * 720)).toBeCloseTo(4 / 3, 6);
    expect(arrangedScene(null, tile).layers[0]!.track).toBe("camera");
  });

  it("plays sounds louder and quieter, and lets them come and go", () => {
    const dress = dressAsShown(line, {
      louder: {
        "0": { from: 0, to: 2 * S, by: { microphone: 6 } },
        "2000000": { from: 2 * S, to: 3 * S, by: { sound: -60 } },
      },
      fades: { in: 4 * S, out: 2 * S },
    });
    const at = (track: string, second: number) =>
      soundAt(track, 0, dress, second * S, { at: second * S, length: 25 * S });
    expect(at("microphone", 1)).toBeCloseTo(10 ** (6 / 20) / 4, 6);
    // The lowest that there is to choose is nothing at all.
    expect(at("sound", 2.5)).toBe(0);
    expect(at("microphone", 2.5)).toBeCloseTo(0.625, 6);
    expect([at("microphone", 10), at("microphone", 24), at("microphone", 25)]).toEqual([1, 0.5, 0]);
    expect(soundAt("microphone", 20, UNDRESSED, 0, { at: 0, length: 0 })).toBe(10);
    expect([changesInPlay(dress), changesInPlay(UNDRESSED)]).toEqual([true, false]);
  });
});
