import { SECOND, type Micros } from "../time/micros";
import { intersect, measure, type Range } from "../time/ranges";
import { mutedIn } from "./dress";
import type { ShownLine } from "./shown-line";
import { startOfTake, takeOf } from "./source-line";

/** So much of a caption's time may be cut off: no word is said in it, and ends of captions lie on no word exactly. */
const SPARE: Micros = SECOND / 10;

/**
 * What was written down of what was said, where it is shown. A caption of which a cut has taken a part, or that stands
 * where the voice is silent, tells words that were left out: it is shown nowhere until it is written anew.
 * @param captions in moments of the source line, in order of time
 */
export function captionsAsShown<T extends Range>(line: ShownLine, captions: readonly T[]): T[] {
  if (line.isIdentity && !line.recipe.louder) return [...captions];
  const muted = mutedIn(line.recipe, "microphone");
  return captions
    .flatMap((caption) => {
      const length = caption.to - caption.from;
      const [part, ...more] = line.toShownRanges(caption);
      if (!part || measure(intersect([caption], muted)) > SPARE) return [];
      // Stretches that are kept next to each other are one.
      const to = more.reduce((end, next) => (next.from === end ? next.to : end), part.to);
      return to - part.from >= length - SPARE ? [{ ...caption, from: part.from, to }] : [];
    })
    .sort((a, b) => a.from - b.from);
}

/**
 * Chapters where they are shown: each begins with the first moment that is kept of its stretch, which goes on to the
 * next one of its take, or to the end of that.
 * @param chapters in moments of the source line
 */
export function chaptersAsShown<T extends { at: Micros }>(line: ShownLine, chapters: readonly T[]): T[] {
  if (line.isIdentity) return [...chapters];
  const inOrder = chapters.toSorted((a, b) => a.at - b.at);
  return inOrder
    .flatMap((chapter, i) => {
      const end = startOfTake(takeOf(chapter.at) + 1);
      const [first] = line.toShownRanges({ from: chapter.at, to: Math.min(end, inOrder[i + 1]?.at ?? end) });
      return first ? [{ ...chapter, at: first.from }] : [];
    })
    .sort((a, b) => a.at - b.at);
}
