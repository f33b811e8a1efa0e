import { useState } from "react";
import { USUAL_QUALITY, readQuality, type Quality } from "#core/media/quality";
import type { TakeSource } from "#core/media/tracks";
import { kept } from "../kept";

/** Seconds, as a choice of words. */
export type CountIn = "0" | "3" | "5" | "10";

/** Minutes, as a choice of words. */
export type StopAfter = "never" | "1" | "2" | "3" | "5" | "10" | "15" | "30" | "60";

/** What is chosen before recording and remembered on this computer. */
export interface Wishes {
  source: TakeSource;
  audience: "owner" | "anyone";
  quality: Quality;
  cues: boolean;
  /** seconds between Record and the first frame */
  countIn: CountIn;
  stopAfter: StopAfter;
  /** choosing what to show and recording it are one press */
  atOnce: boolean;
  withMicrophone: boolean;
}

const WISHES = "clear-nod-wishes";
const USUAL: Wishes = {
  source: "screen-camera",
  audience: "owner",
  quality: USUAL_QUALITY,
  cues: true,
  countIn: "3",
  stopAfter: "never",
  atOnce: false,
  withMicrophone: true,
};

export function useWishes() {
  const [wishes, setWishes] = useState<Wishes>(() => {
    try {
      const before = JSON.parse(kept.get(WISHES) ?? "{}") as Partial<Wishes>;
      return { ...USUAL, ...before, quality: readQuality(before.quality) };
    } catch {
      return USUAL;
    }
  });
  const wish = (change: Partial<Wishes>) =>
    setWishes((now) => {
      const next = { ...now, ...change };
      kept.set(WISHES, JSON.stringify(next));
      return next;
    });
  return [wishes, wish] as const;
}
