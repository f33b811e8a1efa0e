import { describe, expect, it } from "vitest";
import { scenesAsShown } from "../recipe/as-shown";
import { ShownLine } from "../recipe/shown-line";
import { startOfTake } from "../recipe/source-line";
import { PLACES, SIZES, USUAL_ARRANGEMENT, type Place } from "./layout";
import { alone, atPlace, isInset, layerOf, sceneAt, sceneOf } from "./scene";

const WIDE = { width: 1920, height: 1080 };

describe("a scene", () => {
  it("is the screen under the camera's arch, in shares of the frame", () => {
    const { layers } = sceneOf(WIDE, USUAL_ARRANGEMENT);
    expect(layers.map((l) => [l.track, l.shape])).toEqual([
      ["screen", "rectangle"],
      ["camera", "arch"],
    ]);
    // By hand: 0.19 × 1080 × 16/9 = 364.8 wide, × 1.15 = 419.52 high, 32.4 from the edges.
    const { x, y, width, height } = layers[1]!.rect;
    expect([x * 1920, y * 1080, width * 1920, height * 1080].map((n) => Math.round(n * 100) / 100)).toEqual([
      1522.8, 628.08, 364.8, 419.52,
    ]);
    const scene = (kind: "beside" | "camera" | "screen") => sceneOf(WIDE, { ...USUAL_ARRANGEMENT, scene: kind });
    expect(scene("screen")).toEqual(alone("screen"));
    expect(scene("camera")).toEqual(alone("camera"));
    expect(scene("beside").layers.map(({ track }) => track)).toEqual(["screen", "camera"]);
    // A viewer may move only what lies over something.
    const kinds = ["beside", "camera", "screen"] as const;
    expect(kinds.map((kind) => isInset(scene(kind)))).toEqual([false, false, false]);
    expect(isInset(sceneOf(WIDE, USUAL_ARRANGEMENT))).toBe(true);
  });

  it("has its inset at another place as if it had been put there", () => {
    for (const frame of [WIDE, { width: 600, height: 800 }])
      for (const size of SIZES)
        for (const from of PLACES)
          for (const to of PLACES) {
            const rect = (place: Place) => layerOf(sceneOf(frame, { scene: "inset", place, size }), "camera")!.rect;
            const moved = atPlace(frame, rect(from), to);
            for (const side of ["x", "y", "width", "height"] as const)
              expect(moved[side]).toBeCloseTo(rect(to)[side], 12);
          }
  });

  it("in force is the last one that began, and before any the first", () => {
    const tracks = ["screen", "camera", "camera-2", "screen"] as const;
    const events = [0, 5, 5, 9].map((at, i) => ({ at, ...alone(tracks[i]!) }));
    for (let t = 0; t < 12; t++)
      expect(sceneAt(events, t, alone("sound"))).toBe(events.filter((e) => e.at <= t).at(-1));
    expect(sceneAt([], 3, alone("screen"))).toEqual(alone("screen"));
    expect(sceneAt([{ ...events[0]!, at: 4 }], 3, alone("camera"))).toEqual(alone("camera"));
  });

  it("knows a second camera by its kind", () => {
    expect(layerOf({ layers: [...alone("camera-2").layers] }, "camera")?.track).toBe("camera-2");
    expect(layerOf(alone("screen"), "camera")).toBeUndefined();
  });
});

describe("scenes as shown", () => {
  const second = startOfTake(2);
  const events = [
    { at: 0, ...alone("screen") },
    { at: 30, ...alone("camera") },
    { at: second + 10, ...alone("screen") },
  ];
  it("begin each stretch with what was in force there", () => {
    const line = new ShownLine(
      {
        version: 2,
        kept: [
          { from: 20, to: 40 },
          { from: second, to: null },
        ],
      },
      second + 100,
    );
    const shown = scenesAsShown(line, events, () => alone("camera-2"));
    expect(shown.map((e) => [e.at, e.layers[0]!.track])).toEqual([
      [0, "screen"],
      [10, "camera"],
      [20, "camera-2"],
      [30, "screen"],
    ]);
    // Each shown moment has the scene that its source moment has in its own take.
    for (let at = 0; at < line.length; at++) {
      const source = line.toSource(at);
      const ofTake = events.filter((e) => e.at >= second === source >= second);
      expect(sceneAt(shown, at, alone("screen")).layers).toEqual(sceneAt(ofTake, source, alone("camera-2")).layers);
    }
  });
});
