import { useMemo, useState } from "react";
import { speechIn } from "#core/audio/music";
import { pausesIn } from "#core/audio/pauses";
import { placesIn, quietIn, type Proposed } from "#core/recipe/proposals";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import { SECOND, type Micros } from "#core/time/micros";
import { intersect, measure, union, type Range } from "#core/time/ranges";
import type { TakeLook } from "./useLooks";

/** Pauses that are longer than the first are shortened to the second. Seconds */
export interface QuietWish {
  longer: number;
  keep: number;
}

export interface QuietFound {
  /** of the source line; what of each is still shown */
  proposed: readonly Proposed[];
  /** what is won by all of them */
  won: Micros;
  /** where somebody speaks, on the source line; all of a take that is not known yet */
  speech: readonly Range[];
  /** where one can go on in a pause, on the source line */
  places: readonly Micros[];
  wish: QuietWish;
  onWish: (wish: QuietWish) => void;
}

/** What nobody speaks in, by how loud the voices are. */
export function useQuiet(looks: readonly TakeLook[], takes: readonly Range[], shown: readonly Range[]): QuietFound {
  const [wish, onWish] = useState<QuietWish>({ longer: 2, keep: 0.6 });
  const pauses = useMemo(
    () =>
      looks.flatMap(({ position, voice }) => {
        const take = takes.find(({ from }) => takeOf(from) === position);
        return voice && take ? [{ take, pauses: pausesIn(voice, startOfTake(position)) }] : [];
      }),
    [looks, takes],
  );
  const speech = useMemo(
    () =>
      takes.flatMap((take) => {
        const look = looks.find(({ position }) => position === takeOf(take.from));
        return look ? speechIn(look.voice, take) : [take];
      }),
    [looks, takes],
  );
  const places = useMemo(() => pauses.flatMap((of) => placesIn(of.pauses)), [pauses]);
  const all = useMemo(
    () => pauses.flatMap((of) => quietIn(of.pauses, of.take, wish.longer * SECOND, wish.keep * SECOND)),
    [pauses, wish],
  );
  return useMemo(() => {
    const there = union(shown);
    const left = all.map((proposed) => ({ proposed, shown: measure(intersect([proposed], there)) }));
    // What is nearly gone is not worth a question.
    const proposed = left.filter((one) => one.shown > SECOND / 5);
    return {
      proposed: proposed.map((one) => one.proposed),
      won: proposed.reduce((sum, one) => sum + one.shown, 0),
      speech,
      places,
      wish,
      onWish,
    };
  }, [all, shown, speech, places, wish]);
}
