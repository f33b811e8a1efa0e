import { describe, expect, it } from "vitest";
import { SECOND } from "#core/time/micros";
import { drawLine, FILM, RULER, WAVE, WORDS, type Words } from "./draw-line";

const WIDTH = 900;
const HEIGHT = RULER + FILM + WAVE + WORDS;
const colours = { ink: "ink", wave: "wave", sound: "sound", out: "out", ground: "ground" };

/** What is written below the pictures and sounds, with where it begins and the room that it has. */
function written(words: readonly Words[], from: number, to: number): [text: string, left: number, room: number][] {
  const out: [string, number, number][] = [];
  let room = 0;
  const done = {
    rect: (_x: number, _y: number, width: number) => (room = width),
    fillText: (text: string, x: number, y: number) => y > HEIGHT - WORDS && out.push([text, x, room]),
  };
  const pen = new Proxy(done, {
    get: (all, name) => (name in all ? all[name as keyof typeof all] : () => undefined),
    set: () => true,
  }) as unknown as CanvasRenderingContext2D;
  const view = { from: from * SECOND, to: to * SECOND, width: WIDTH, height: HEIGHT };
  drawLine(pen, view, { looks: [], takes: new Map(), cuts: [], words, hasSound: false, colours });
  return out;
}

describe("words on the line", () => {
  const words = Array.from({ length: 2_000 }, (_, n) => ({
    from: 1.8 * n * SECOND,
    to: (1.8 * n + 1.5) * SECOND,
    text: `word ${n}`,
  }));

  it("stand where they are said, as far as there is room, and only those that are seen", () => {
    const seen = written(words, 100, 109);
    // 100 pixels a second; the first one has begun before.
    expect(seen.map(([text]) => text)).toEqual(["word 55", "word 56", "word 57", "word 58", "word 59", "word 60"]);
    for (const [text, left, room] of seen) {
      const from = 1.8 * Number(text.slice(5));
      expect(left).toBeCloseTo((from - 100) * 100 + 4, 6);
      expect(room).toBeCloseTo(Math.min(150, (109 - from) * 100) - 4, 6);
    }
  });

  it("are left out where none could be read", () => {
    expect(written(words, 0, 3_600)).toEqual([]);
    expect(written([], 0, 10)).toEqual([]);
  });
});
