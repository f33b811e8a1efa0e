import { CORNERS, DEFAULT_INSET, SIZES, type Inset } from "../layout/layout";
import { readQuality, USUAL_QUALITY, type Quality } from "../media/quality";
import { TAKE_SOURCES, type TakeSource } from "../media/tracks";

/** Seconds between Record and the first frame, as a choice of words. */
export const COUNT_INS = ["0", "3", "5", "10"] as const;
export type CountIn = (typeof COUNT_INS)[number];

/** Minutes after which a take ends by itself. */
export const STOPS = ["never", "1", "2", "3", "5", "10", "15", "30", "60"] as const;
export type StopAfter = (typeof STOPS)[number];

/** What a person wants of a recording before it starts: remembered on a computer, or kept under a name as a set-up. */
export interface Wishes {
  source: TakeSource;
  audience: "owner" | "anyone";
  quality: Quality;
  inset: Pick<Inset, "corner" | "size">;
  /** how loud the sound of what is shown is recorded, in hundredths */
  soundLevel: number;
  /** a sound where the state changes */
  cues: boolean;
  /** a sound where something is wrong while recording: for whoever wears headphones */
  alarms: boolean;
  /** one sees oneself as in a mirror; what is recorded is not */
  mirrored: boolean;
  countIn: CountIn;
  stopAfter: StopAfter;
  /** choosing what to show and recording it are one press */
  atOnce: boolean;
  withMicrophone: boolean;
}

const { corner, size } = DEFAULT_INSET;
export const USUAL_WISHES: Wishes = {
  source: "screen-camera",
  audience: "owner",
  quality: USUAL_QUALITY,
  inset: { corner, size },
  soundLevel: 100,
  cues: true,
  alarms: false,
  mirrored: true,
  countIn: "3",
  stopAfter: "never",
  atOnce: false,
  withMicrophone: true,
};

/** What was kept, by this version or another, as wishes: each that is there and known; the usual one for the rest. */
export function readWishes(kept: unknown): Wishes {
  const of = (kept ?? {}) as Partial<Record<keyof Wishes, unknown>>;
  const inset = (of.inset ?? {}) as Partial<Record<keyof Inset, unknown>>;
  const one = <T>(known: readonly T[], value: unknown, usual: T): T => known.find((k) => k === value) ?? usual;
  const flag = (name: "cues" | "alarms" | "mirrored" | "atOnce" | "withMicrophone") =>
    one([true, false], of[name], USUAL_WISHES[name]);
  return {
    source: one(TAKE_SOURCES, of.source, USUAL_WISHES.source),
    audience: one(["owner", "anyone"] as const, of.audience, USUAL_WISHES.audience),
    quality: readQuality(of.quality),
    inset: { corner: one(CORNERS, inset.corner, corner), size: one(SIZES, inset.size, size) },
    soundLevel: readLevel(of.soundLevel),
    cues: flag("cues"),
    alarms: flag("alarms"),
    mirrored: flag("mirrored"),
    countIn: one(COUNT_INS, of.countIn, USUAL_WISHES.countIn),
    stopAfter: one(STOPS, of.stopAfter, USUAL_WISHES.stopAfter),
    atOnce: flag("atOnce"),
    withMicrophone: flag("withMicrophone"),
  };
}

const readLevel = (kept: unknown): number =>
  typeof kept === "number" && Number.isInteger(kept) && kept >= 0 && kept <= 100 ? kept : USUAL_WISHES.soundLevel;
