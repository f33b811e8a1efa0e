import { describe, expect, it } from "vitest";
import { SECOND } from "../time/micros";
import { slipsIn } from "./slips";
import { startOfTake } from "./source-line";

/** Lines of two seconds each, one after the other. */
const said = (...lines: string[]) =>
  lines.map((text, n) => ({ from: 2 * n * SECOND, to: (2 * n + 1.5) * SECOND, text }));
const found = (...lines: string[]) => slipsIn(said(...lines)).map(({ why, from, to }) => [why, from / 1e6, to / 1e6]);

describe("words that could be left out", () => {
  it("are those that only fill, and no others", () => {
    expect(found("Um.", "The lap is twelve.", "So, uh…", "Hmm, okay", "Well.", "Um, twelve.")).toEqual([
      ["filler", 0, 1.5],
      ["filler", 4, 5.5],
      ["filler", 6, 7.5],
    ]);
  });

  it("are a start that was begun again right after it, to where that begins", () => {
    expect(found("The lap is", "The lap is twelve millimetres.")).toEqual([["begun-again", 0, 2]]);
    expect(found("The lap is, um,", "the lap is twelve.", "And so on.")).toEqual([["begun-again", 0, 2]]);
    expect(found("The lap is twel—", "The lap is twelve.")).toEqual([["begun-again", 0, 2]]);
    // Said again as a whole, it is the last one that stays.
    expect(found("Look here.", "Look here.", "Look here at the sill.")).toEqual([
      ["begun-again", 0, 2],
      ["begun-again", 2, 4],
    ]);
  });

  it("are none where something is only like something else, or said later", () => {
    expect(found("No.", "No, that one.", "The lap is twelve.", "The lap is ten.")).toEqual([]);
    const [first, second] = said("The lap is", "The lap is twelve.");
    expect(slipsIn([first!, { ...second!, from: 8 * SECOND, to: 9 * SECOND }])).toEqual([]);
    const later = startOfTake(2);
    expect(slipsIn([first!, { ...second!, from: later, to: later + SECOND }])).toEqual([]);
    expect(slipsIn([])).toEqual([]);
    expect(found("", "…", "— —")).toEqual([]);
  });
});
