import { describe, expect, it } from "vitest";
import { areaOf, cropOf } from "../layout/area";
import { frameOf, HEIGHTS, levelOf, LEVEL_QUALITY, rateOf, RATES, readQuality, surfaceSize } from "./quality";
import { bitsASecond, bytesAMinute, cameraSize, learnt, pictureBits } from "./rates";
import { SEGMENT_SECONDS } from "./tracks";

const HD = { width: 1920, height: 1080 };
const { small, even, sharp } = LEVEL_QUALITY;

describe("quality", () => {
  it("has frames of sixteen to nine with even sides", () => {
    expect(HEIGHTS.map((height) => frameOf({ height }).width)).toEqual([854, 1066, 1280, 1600, 1920]);
  });

  it("has a name where it is one of the three, and what was kept is believed only where it is one", () => {
    expect(levelOf({ height: 720, rate: 30 })).toBe("even");
    expect(levelOf({ height: 720, rate: 60 })).toBeNull();
    expect(readQuality({ height: 480, rate: 10 })).toEqual({ height: 480, rate: 10 });
    for (const kept of [null, undefined, "720", { height: 720 }, { height: 7200, rate: 30 }, { height: 720, rate: 29 }])
      expect(readQuality(kept)).toEqual(sharp);
  });

  it("lays every picture on a sixtieth of a second, and the first of every second segment on the grid", () => {
    for (const rate of RATES) {
      expect(60 % rate).toBe(0);
      expect(Number.isInteger(rate * 2 * SEGMENT_SECONDS)).toBe(true);
    }
  });

  it("gives a camera no more than 30 pictures a second", () => {
    expect(rateOf("screen", { height: 720, rate: 60 })).toBe(60);
    expect(rateOf("camera", { height: 720, rate: 60 })).toBe(30);
    expect(rateOf("camera", small)).toBe(15);
  });
});

describe("the size at which a surface is delivered", () => {
  it.each([
    [HD, sharp, HD],
    [HD, even, { width: 1280, height: 720 }],
    [{ width: 3840, height: 2160 }, sharp, HD],
    [{ width: 800, height: 600 }, sharp, { width: 800, height: 600 }],
    [{ width: 900, height: 1440 }, even, { width: 450, height: 720 }],
    [{ width: 3440, height: 1440 }, sharp, { width: 1920, height: 804 }],
  ])("%o at %o: %o", (surface, quality, expected) => expect(surfaceSize(surface, null, quality)).toEqual(expected));

  it("makes its area as large as the quality allows, and nothing larger than it is", () => {
    const area = areaOf(HD, { x: 0, y: 0, width: 960, height: 540 });
    expect(surfaceSize(HD, area, even)).toEqual(HD);
    const scaled = surfaceSize(HD, area, small);
    expect(cropOf(scaled, area)).toMatchObject({ width: 854, height: 480 });
  });
});

describe("what it takes", () => {
  it("is what it always was at full HD, and less for less", () => {
    expect(pictureBits("screen", HD, 30)).toBe(2_500_000);
    expect(pictureBits("screen", { width: 1280, height: 720 }, 30)).toBe(1_666_667);
    expect(pictureBits("screen", HD, 60)).toBe(3_535_534);
    expect(pictureBits("camera", cameraSize(sharp, false), 30)).toBe(700_000);
  });

  it("adds up over the tracks: a camera that is all there is to see is larger", () => {
    expect(bitsASecond(["screen", "camera", "microphone"], sharp)).toBe(3_296_000);
    expect(bytesAMinute(["microphone"], sharp)).toBe(720_000);
    expect(bitsASecond(["camera"], sharp)).toBeGreaterThan(1_200_000);
  });

  it("is learnt from take to take", () => {
    const most = 24_000_000;
    const first = learnt(1, { bytes: 6_000_000, seconds: 60, most });
    expect(first).toBe(0.25);
    expect(learnt(first, { bytes: 24_000_000, seconds: 120, most })).toBeCloseTo(0.35);
    // Too short, longer than can be, nothing at all: none of them says what a minute takes.
    expect(learnt(first, { bytes: 6_000_000, seconds: 3, most })).toBe(first);
    expect(learnt(1, { bytes: 9e9, seconds: 60, most })).toBe(1);
    expect(learnt(first, { bytes: 1, seconds: Number.NaN, most })).toBe(first);
  });
});
