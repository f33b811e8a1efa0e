import { describe, expect, it } from "vitest";
import { SECOND as S } from "../time/micros";
import { recipeOf } from "./edits";
import { ShownLine } from "./shown-line";
import { startOfTake } from "./source-line";
import { captionsAsShown, chaptersAsShown } from "./written";

const line = (kept: [number, number][], dress = {}) =>
  new ShownLine(
    recipeOf(
      kept.map(([from, to]) => ({ from: from * S, to: to * S })),
      dress,
    ),
    Infinity,
  );
const captions = [
  { from: 0, to: 2 * S, text: "Bay three." },
  { from: 2 * S, to: 4 * S, text: "The key is under the second pot." },
  { from: 4 * S, to: 6 * S, text: "Mind the ridge." },
];
const texts = (shown: { text: string; from: number; to: number }[]) =>
  shown.map(({ text, from, to }) => [text, from / S, to / S]);

describe("what was written down, as it is shown", () => {
  it("tells nothing of a caption that a cut touches, and the others where they are", () => {
    expect(
      texts(
        captionsAsShown(
          line([
            [0, 3],
            [4, 6],
          ]),
          captions,
        ),
      ),
    ).toEqual([
      ["Bay three.", 0, 2],
      ["Mind the ridge.", 3, 5],
    ]);
    // Both halves are kept, and what was between them is not.
    expect(
      texts(
        captionsAsShown(
          line([
            [0, 2.5],
            [3, 6],
          ]),
          captions,
        ),
      ).map(([text]) => text),
    ).toEqual(["Bay three.", "Mind the ridge."]);
    // Kept as two stretches, one after the other, it is whole; in another order it is not.
    expect(
      captionsAsShown(
        line([
          [0, 3],
          [3, 6],
        ]),
        captions,
      ),
    ).toHaveLength(3);
    expect(
      texts(
        captionsAsShown(
          line([
            [3, 6],
            [0, 3],
          ]),
          captions,
        ),
      ).map(([text]) => text),
    ).toEqual(["Mind the ridge.", "Bay three."]);
    // So little is no word.
    expect(
      captionsAsShown(
        line([
          [0, 1.95],
          [2, 6],
        ]),
        captions,
      ),
    ).toHaveLength(3);
  });

  it("tells nothing of what is said while the voice is silent", () => {
    const louder = { "2500000": { from: 2.5 * S, to: 3 * S, by: { microphone: -60 } } };
    expect(captionsAsShown(line([[0, 6]], { louder }), captions).map(({ text }) => text)).toEqual([
      "Bay three.",
      "Mind the ridge.",
    ]);
    const softer = { "2500000": { from: 2.5 * S, to: 3 * S, by: { microphone: -12, sound: -60 } } };
    expect(captionsAsShown(line([[0, 6]], { louder: softer }), captions)).toHaveLength(3);
  });

  it("begins a chapter with the first moment that is kept of it", () => {
    const second = startOfTake(2);
    const chapters = [
      { at: 0, title: "Bays" },
      { at: 10 * S, title: "Ridge" },
      { at: second, title: "Putty" },
    ];
    const shown = (kept: [number, number][]) =>
      chaptersAsShown(line(kept), chapters).map(({ title, at }) => [title, at / S]);
    expect(
      shown([
        [3, 8],
        [12, 20],
        [second / S + 5, second / S + 9],
      ]),
    ).toEqual([
      ["Bays", 0],
      ["Ridge", 5],
      ["Putty", 13],
    ]);
    expect(shown([[12, 20]])).toEqual([["Ridge", 0]]);
    expect(
      shown([
        [12, 20],
        [0, 4],
      ]),
    ).toEqual([
      ["Ridge", 0],
      ["Bays", 8],
    ]);
  });
});
