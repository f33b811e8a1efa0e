import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { onGrid } from "./frames";
import type { Proposed } from "./proposals";
import { takeOf } from "./source-line";

/** What was said in a stretch. */
interface Words extends Range {
  text: string;
}

/** Sounds that people make while they think. English; those that are words of a sentence as well are not among them. */
const HESITATIONS = new Set(["um", "umm", "uhm", "uh", "uhh", "er", "erm", "eh", "ehm", "hm", "hmm", "mm", "mhm"]);
/** What only leads on, beside one of these. */
const LEADS = new Set(["so", "well", "okay", "ok", "and", "right", "yeah", "now", "like", "the"]);
/** Said again after longer than this, it is said twice on purpose. */
const SOON: Micros = 5 * SECOND;
/** One word alone is often said again: "No. No, that one." */
const LEAST_WORDS = 2;

/**
 * Words that could be left out: those that only fill, and a start that was begun again right after it. As exact as the
 * words are written down: where a line of them is a sentence, only whole lines are found.
 * @param said in order, on the source line
 * @returns in order
 */
export function slipsIn(said: readonly Words[]): Proposed[] {
  return said.flatMap((one, i): Proposed[] => {
    const words = wordsOf(one.text);
    const [from, to] = [onGrid(one.from), onGrid(one.to)];
    if (words.some((word) => HESITATIONS.has(word)) && words.every((word) => HESITATIONS.has(word) || LEADS.has(word)))
      return to > from ? [{ why: "filler", from, to }] : [];
    const next = said[i + 1];
    if (!next || next.from - one.to > SOON || takeOf(next.from) !== takeOf(one.from)) return [];
    const start = words.filter((word) => !HESITATIONS.has(word));
    const again = wordsOf(next.text).filter((word) => !HESITATIONS.has(word));
    const isBegunAgain =
      start.length >= LEAST_WORDS && again.length >= start.length && start.every((word, n) => word === again[n]);
    const goesOn = onGrid(next.from);
    return isBegunAgain && goesOn > from ? [{ why: "begun-again", from, to: goesOn }] : [];
  });
}

/** Without what stands around words; a word that was broken off is left out. */
const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/\s+/u)
    .filter((word) => !/[-–—]$/u.test(word))
    .map((word) => word.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, ""))
    .filter((word) => word !== "");
