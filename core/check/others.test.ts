import { describe, expect, it } from "vitest";
import type { Rect } from "../layout/layout";
import { distinctFaces, othersSeen, partsOf, spreadOver } from "./others";

const seconds = (n: number) => n * 1_000_000;

describe("moments to look at", () => {
  it("are spread evenly over what is shown, and over nothing else", () => {
    expect(spreadOver([{ from: 0, to: seconds(4) }])).toEqual([0.5, 1.5, 2.5, 3.5].map(seconds));
    const shown = [
      { from: seconds(1), to: seconds(2) },
      { from: seconds(9), to: seconds(11) },
    ];
    expect(spreadOver(shown)).toEqual([1.5, 9.5, 10.5].map(seconds));
    expect(spreadOver(shown, 2)).toEqual([1.75, 10.25].map(seconds));
    expect(spreadOver([])).toEqual([]);
  });

  it("are no more than are asked for, however long it is, and one where it is short", () => {
    const hour = spreadOver([{ from: 0, to: seconds(3600) }]);
    expect(hour).toHaveLength(60);
    expect([hour[0], hour[59]]).toEqual([seconds(30), seconds(3570)]);
    expect(spreadOver([{ from: seconds(5), to: seconds(5) + 1000 }])).toEqual([seconds(5) + 500]);
  });
});

describe("parts of a picture", () => {
  it.each([
    [{ width: 1920, height: 1080 }],
    [{ width: 1080, height: 1920 }],
    [{ width: 640, height: 640 }],
    [{ width: 3440, height: 1440 }],
  ])("of %j are squares within it that have every small thing whole in one of them", (size) => {
    const [whole, ...parts] = partsOf(size);
    expect(whole).toEqual({ x: 0, y: 0, width: 1, height: 1 });
    for (const { x, y, width, height } of parts) {
      expect(width * size.width).toBeCloseTo(height * size.height, 6);
      expect(Math.max(-x, -y, x + width - 1, y + height - 1)).toBeLessThan(1e-9);
    }
    // A face of a tenth of the shorter side, wherever it is.
    const side = 0.1 * Math.min(size.width, size.height);
    for (let i = 0; i <= 40; i++)
      for (let j = 0; j <= 40; j++) {
        const [x, y] = [(i / 40) * (size.width - side), (j / 40) * (size.height - side)];
        const within = (p: Rect) =>
          x >= p.x * size.width - 1e-6 &&
          y >= p.y * size.height - 1e-6 &&
          x + side <= (p.x + p.width) * size.width + 1e-6 &&
          y + side <= (p.y + p.height) * size.height + 1e-6;
        expect(parts.some(within)).toBe(true);
      }
    expect(parts.length).toBeLessThan(80);
  });
});

describe("faces that were found", () => {
  const face = (x: number, y: number, side: number): Rect => ({ x, y, width: side, height: side });

  it("count once where several parts have them", () => {
    const found = [face(0.1, 0.1, 0.1), face(0.11, 0.1, 0.11), face(0.5, 0.1, 0.2)];
    expect(distinctFaces(found)).toEqual([face(0.5, 0.1, 0.2), face(0.11, 0.1, 0.11)]);
    expect(distinctFaces([])).toEqual([]);
  });

  it("are two where people stand beside each other", () => {
    expect(distinctFaces([face(0.1, 0.1, 0.1), face(0.18, 0.1, 0.1)])).toHaveLength(2);
  });

  it("are somebody else's: any on a screen, all but one before a camera, told as stretches", () => {
    const looks = (of: "screen" | "camera", faces: number[]) => faces.map((n, at) => ({ of, at, faces: n }));
    expect(othersSeen([...looks("camera", [1, 2, 3, 1, 0, 2]), ...looks("screen", [0, 0, 1])])).toEqual([
      { of: "camera", from: 1, to: 2, faces: 3 },
      { of: "screen", from: 2, to: 2, faces: 1 },
      { of: "camera", from: 5, to: 5, faces: 2 },
    ]);
    // What one picture ends with and the next begins with is no stretch.
    expect(othersSeen([...looks("screen", [0, 1]), ...looks("camera", [2])])).toHaveLength(2);
    expect(othersSeen(looks("camera", [1, 0, 1]))).toEqual([]);
  });
});
