import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { LevelLine, pausesBetween, pausesIn, SPEECH_FRAME, SPEECH_RATE } from "./pauses";

const RATE = 48_000;
/** Sound of stretches of so many seconds, each a noise of some loudness in dBFS. */
function sound(parts: [seconds: number, level: number][]): Float32Array {
  const pick = random(3);
  return Float32Array.from(
    parts.flatMap(([seconds, level]) => {
      const peak = 10 ** (level / 20) * Math.sqrt(3);
      return Array.from({ length: seconds * RATE }, () => peak * (pick(2001) / 1000 - 1));
    }),
  );
}
const pausesOf = (samples: Float32Array, from = 0) => {
  const line = new LevelLine(RATE);
  // In blocks of an odd size, as a device gives them.
  for (let at = 0; at < samples.length; at += 441) line.push(samples.subarray(at, at + 441));
  return pausesIn(line.levels({ from: 0, to: Infinity }), from).map(({ from, to }) => [from / 1e6, to / 1e6]);
};

describe("levels along a voice", () => {
  it("are the root of the mean square of each fiftieth of a second", () => {
    const line = new LevelLine(RATE);
    line.push(sound([[0.1, -20]]));
    line.push(sound([[0.1, -46]]));
    const levels = [...line.levels({ from: 0, to: 1e6 })];
    expect(levels).toHaveLength(10);
    levels.forEach((level, i) => expect(Math.abs(level - (i < 5 ? -20 : -46))).toBeLessThanOrEqual(1));
    expect([...line.levels({ from: 80_000, to: 120_000 })].map((level) => level < -30)).toEqual([false, true]);
  });

  it("are kept for longer than there was room at first", () => {
    const line = new LevelLine(500);
    line.push(new Float32Array(500 * 200).fill(1));
    expect(line.levels({ from: 0, to: Infinity }).length).toBe(10_000);
  });
});

describe("pauses in speech", () => {
  it("lie where it is as quiet as the room, in a quiet room and in a loud one", () => {
    for (const room of [-58, -40]) {
      const found = pausesOf(
        sound([
          [1, -18],
          [0.6, room],
          [2, -20],
          [0.3, room],
          [1, -16],
        ]),
      );
      expect(found).toEqual([
        [expect.closeTo(1, 1), expect.closeTo(1.6, 1)],
        [expect.closeTo(3.6, 1), expect.closeTo(3.9, 1)],
      ]);
    }
  });

  it("are no breaths, and are not ended by a click", () => {
    expect(
      pausesOf(
        sound([
          [1, -18],
          [0.15, -58],
          [1, -18],
          [0.4, -58],
          [0.04, -30],
          [0.4, -58],
          [1, -18],
        ]),
      ),
    ).toEqual([[expect.closeTo(2.15, 1), expect.closeTo(2.99, 1)]]);
  });

  it("begin where the levels do", () => {
    expect(
      pausesOf(
        sound([
          [1, -18],
          [1, -58],
          [1, -18],
        ]),
        5e6,
      ),
    ).toEqual([[expect.closeTo(6, 1), expect.closeTo(7, 1)]]);
  });

  it("are not known where no voice stands out from the room", () => {
    expect(
      pausesOf(
        sound([
          [2, -20],
          [1, -26],
          [2, -20],
        ]),
      ),
    ).toEqual([]);
    expect(pausesOf(new Float32Array(RATE))).toEqual([]);
    expect(pausesOf(new Float32Array(0))).toEqual([]);
  });
});

describe("pauses between what is likely to be speech", () => {
  const FRAME = SPEECH_FRAME / SPEECH_RATE;
  const told = (runs: [frames: number, likely: number][], from = 0) =>
    pausesBetween(Float32Array.from(runs.flatMap(([n, likely]) => Array<number>(n).fill(likely))), from).map(
      ({ from, to }) => [from / 1e6 / FRAME, to / 1e6 / FRAME].map((frame) => Math.round(frame * 100) / 100),
    );
  it("last from where it ends to where it goes on", () => {
    expect(
      told([
        [20, 0.9],
        [15, 0.05],
        [30, 0.8],
        [10, 0.1],
        [5, 0.9],
      ]),
    ).toEqual([
      [20, 35],
      [65, 75],
    ]);
    expect(
      told([
        [10, 0.1],
        [20, 0.9],
        [12, 0.1],
      ]),
    ).toEqual([
      [0, 10],
      [30, 42],
    ]);
    expect(
      told(
        [
          [10, 0.1],
          [5, 0.9],
        ],
        2e6 * FRAME,
      )[0],
    ).toEqual([2, 12]);
  });
  it("are not ended by what is unsure, and are no breaths", () => {
    expect(
      told([
        [20, 0.9],
        [8, 0.1],
        [2, 0.45],
        [8, 0.1],
        [9, 0.9],
      ]),
    ).toEqual([[20, 38]]);
    expect(
      told([
        [20, 0.9],
        [8, 0.45],
        [20, 0.9],
        [5, 0.1],
        [9, 0.9],
      ]),
    ).toEqual([]);
    expect(pausesBetween(new Float32Array(0), 0)).toEqual([]);
    expect(told([[100, 0.1]])).toEqual([]);
  });
});
