import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { leftOut } from "./edits";
import { frameAt, momentOf } from "./frames";
import { isEdge, piecesOfStretch, silenced, type CutTrack, type TrackPiece } from "./track-pieces";

/** Whole segments of so many units each. */
const track = (timescale: number, unit: number, lengths: number[], phase = 0): CutTrack => {
  let at = phase;
  return {
    timescale,
    unit,
    segments: lengths.map((length, i) => {
      const start = at;
      at += length * unit;
      return { number: i + 1, start, end: at };
    }),
  };
};
/** Outside check: which units of the track stand at which unit of the shown line, one by one. */
function written({ unit, segments }: CutTrack, pieces: readonly TrackPiece[]): [shown: number, source: number][] {
  return pieces.flatMap((piece) => {
    const [from, to] = isEdge(piece)
      ? [piece.from, piece.to]
      : [segments[piece.first - 1]!.start, segments[piece.last - 1]!.end];
    return Array.from({ length: (to - from) / unit }, (_, n): [number, number] => {
      const source = from + n * unit;
      return [(source + piece.later) / unit, source];
    });
  });
}

describe("what a track plays of stretches", () => {
  const SECONDS = 90;
  it.each([
    ["pictures", 30, 1, Array(60).fill(45)],
    ["fast pictures", 60, 1, Array(60).fill(90)],
    ["pictures of another encoder", 600, 1, Array(45).fill(1_200)],
    ["AAC", 48_000, 1024, Array(60).fill(70)],
    ["Opus", 48_000, 960, Array(60).fill(75)],
  ] as const)("%s: an unbroken grid, at most half a unit off, which never adds up", (_, timescale, unit, lengths) => {
    const cut = track(timescale, unit, [...lengths]);
    const pick = random(9);
    for (let round = 0; round < 12; round++) {
      let kept = [{ from: 0, to: momentOf(SECONDS * 30) }];
      for (let n = 0; n < 20; n++) {
        const from = pick(SECONDS * 30);
        kept = leftOut(kept, { from: momentOf(from), to: momentOf(from + 1 + pick(60)) });
      }
      let shown = 0;
      const all = kept.flatMap(({ from, to }) => {
        const pieces = written(cut, piecesOfStretch(cut, { from, to }, shown));
        // Where each unit ought to be shown, by the frames of the recipe alone.
        const off = pieces.map(
          ([place, source]) =>
            place - ((frameAt(shown) - frameAt(from)) / 30 + source / timescale) * (timescale / unit),
        );
        expect(Math.max(0, ...off.map(Math.abs))).toBeLessThan(0.5001);
        shown += to - from;
        return pieces;
      });
      expect(all.length).toBeGreaterThan(1000);
      expect(all.findIndex(([place], n) => place !== n)).toBe(-1);
    }
  });

  it("takes whole segments as they are, and cuts the others", () => {
    const cut = track(30, 1, [45, 45, 45, 45]);
    expect(piecesOfStretch(cut, { from: momentOf(10), to: momentOf(150) }, 0)).toEqual([
      { of: 1, from: 10, to: 45, later: -10 },
      { first: 2, last: 3, later: -10 },
      { of: 4, from: 135, to: 150, later: -10 },
    ]);
    expect(piecesOfStretch(cut, { from: momentOf(50), to: momentOf(60) }, momentOf(7))).toEqual([
      { of: 2, from: 50, to: 60, later: -43 },
    ]);
    expect(piecesOfStretch(cut, { from: 0, to: momentOf(181) }, 0)).toEqual([{ first: 1, last: 4, later: 0 }]);
  });

  it("goes on after a segment that is missing, and is silent where there is nothing", () => {
    const cut = track(30, 1, [45, 45, 45]);
    const missing = { ...cut, segments: cut.segments.filter(({ number }) => number !== 2) };
    const all = { from: 0, to: momentOf(135) };
    expect(piecesOfStretch(missing, all, 0)).toEqual([
      { first: 1, last: 1, later: 0 },
      { first: 3, last: 3, later: 0 },
    ]);
    expect(piecesOfStretch({ ...cut, segments: [] }, all, 0)).toEqual([]);
    expect(piecesOfStretch(cut, { from: momentOf(200), to: momentOf(300) }, 0)).toEqual([]);
  });

  it("stands on the grid of the shown line, wherever the packets of a take lie", () => {
    const cut = track(48_000, 960, [75, 75], 312);
    const [piece] = piecesOfStretch(cut, { from: 0, to: momentOf(30) }, momentOf(31));
    expect((312 + piece!.later) % 960).toBe(0);
  });
});

describe("sound in whose place nothing is heard", () => {
  it("is silent in every packet that a stretch touches and in one more at each side, and stands where it stood", () => {
    const pick = random(4);
    for (let round = 0; round < 12; round++) {
      const cut = track(48_000, 1_024, Array<number>(20).fill(70), pick(1_024));
      const pieces = piecesOfStretch(
        cut,
        { from: momentOf(pick(200)), to: momentOf(400 + pick(400)) },
        momentOf(pick(90)),
      );
      let from = 0;
      const muted = Array.from({ length: 5 }, () => {
        const to = (from += 1 + pick(5_000_000));
        from += 1 + pick(3_000_000);
        return { from: to, to: from };
      });
      const quiet = silenced(pieces, cut, muted);
      expect(written(cut, quiet)).toEqual(written(cut, pieces));
      // Outside check, packet by packet: does it, or one next to it, share a sample with a stretch?
      const isQuiet = (start: number) =>
        muted.some((m) => start - 1_024 < (m.to * 48) / 1_000 && (m.from * 48) / 1_000 < start + 2 * 1_024);
      for (const piece of quiet) {
        const silent = isEdge(piece) && piece.silent === true;
        expect(new Set(written(cut, [piece]).map(([, source]) => isQuiet(source)))).toEqual(new Set([silent]));
      }
    }
  });

  it("leaves whole segments whole, and asks for nothing where nothing is muted", () => {
    const cut = track(48_000, 960, [75, 75, 75, 75]);
    const pieces = piecesOfStretch(cut, { from: 0, to: 6_000_000 }, 0);
    expect(silenced(pieces, cut, [])).toEqual(pieces);
    expect(silenced(pieces, cut, [{ from: 2_000_000, to: 2_100_000 }])).toEqual([
      { first: 1, last: 1, later: 0 },
      { of: 2, from: 72_000, to: 72_000 + 24 * 960, later: 0 },
      { of: 2, from: 72_000 + 24 * 960, to: 72_000 + 31 * 960, silent: true, later: 0 },
      { of: 2, from: 72_000 + 31 * 960, to: 144_000, later: 0 },
      { first: 3, last: 4, later: 0 },
    ]);
  });
});
