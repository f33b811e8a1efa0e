import { describe, expect, it } from "vitest";
import { readWishes, USUAL_WISHES, type Wishes } from "./wishes";

const own: Wishes = {
  source: "camera",
  audience: "anyone",
  folder: { id: "north", name: "Sites / North range", workspace: "w1" },
  quality: { height: 480, rate: 15 },
  arrangement: { scene: "beside", place: "top-left", size: "large" },
  lens: { zoom: 150, x: 40, y: 60, blurs: true, flips: false },
  soundLevel: 40,
  suppresses: true,
  cues: false,
  alarms: true,
  mirrored: false,
  floats: true,
  countIn: "0",
  stopAfter: "5",
  atOnce: true,
  stays: true,
  withMicrophone: false,
};

describe("wishes that were kept", () => {
  it("are read as they were", () => expect(readWishes(JSON.parse(JSON.stringify(own)))).toEqual(own));

  it.each([null, undefined, 7, "screen", [], {}])("%j are the usual ones", (kept) =>
    expect(readWishes(kept)).toEqual(USUAL_WISHES),
  );

  it("are taken one by one: what is unknown is as usual, what is known stays, what is more is left out", () => {
    const kept = {
      ...own,
      source: "hologram",
      quality: 720,
      folder: { id: "north" },
      soundLevel: 900,
      arrangement: { scene: "upside-down", place: "middle", size: "small" },
      admin: true,
    };
    expect(readWishes(kept)).toEqual({
      ...own,
      source: USUAL_WISHES.source,
      quality: USUAL_WISHES.quality,
      folder: null,
      soundLevel: 100,
      arrangement: { scene: "inset", place: "middle", size: "small" },
    });
  });
});
