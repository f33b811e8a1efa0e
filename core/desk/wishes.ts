import { FIRST_AUDIENCES, type FirstAudience } from "../access/access";
import { PLACES, SCENE_KINDS, SIZES, USUAL_ARRANGEMENT, type Arrangement } from "../layout/layout";
import { readLens, USUAL_LENS, type Lens } from "../layout/lens";
import { readQuality, USUAL_QUALITY, type Quality } from "../media/quality";
import { TAKE_SOURCES, type TakeSource } from "../media/tracks";

/** Seconds between Record and the first frame, as a choice of words. */
export const COUNT_INS = ["0", "3", "5", "10"] as const;
export type CountIn = (typeof COUNT_INS)[number];

/** Minutes after which a take ends by itself. */
export const STOPS = ["never", "1", "2", "3", "5", "10", "15", "30", "60"] as const;
export type StopAfter = (typeof STOPS)[number];

/** A folder of a workspace, as it was called when it was chosen. */
export interface WishedFolder {
  id: string;
  name: string;
  workspace: string;
}
/** With those above it, in UTF-16 units. */
export const FOLDER_NAME_MAX = 800;

/** What a person wants of a recording before it starts: remembered on a computer, or kept under a name as a set-up. */
export interface Wishes {
  source: TakeSource;
  audience: FirstAudience;
  /** where it is to lie; null for nowhere */
  folder: WishedFolder | null;
  quality: Quality;
  /** what is seen at the start; a scene that is chosen while recording is not kept */
  arrangement: Arrangement;
  /** what is made of the camera's picture */
  lens: Lens;
  /** how loud the sound of what is shown is recorded, in hundredths */
  soundLevel: number;
  /** the noise around the voice is taken out */
  suppresses: boolean;
  /** a sound where the state changes */
  cues: boolean;
  /** a sound where something is wrong while recording: for whoever wears headphones */
  alarms: boolean;
  /** one sees oneself as in a mirror; what is recorded is not */
  mirrored: boolean;
  /** the controls open in a window above all others when it starts, where the browser has that */
  floats: boolean;
  countIn: CountIn;
  stopAfter: StopAfter;
  /** choosing what to show and recording it are one press */
  atOnce: boolean;
  /** a recording stays on this computer when all of it was sent */
  stays: boolean;
  withMicrophone: boolean;
}

export const USUAL_WISHES: Wishes = {
  source: "screen-camera",
  audience: "owner",
  folder: null,
  quality: USUAL_QUALITY,
  arrangement: USUAL_ARRANGEMENT,
  lens: USUAL_LENS,
  soundLevel: 100,
  suppresses: false,
  cues: true,
  alarms: false,
  mirrored: true,
  floats: false,
  countIn: "3",
  stopAfter: "never",
  atOnce: false,
  stays: false,
  withMicrophone: true,
};

const one = <T>(known: readonly T[], value: unknown, usual: T): T => known.find((k) => k === value) ?? usual;

/** What was kept, by this version or another, as wishes: each that is there and known; the usual one for the rest. */
export function readWishes(kept: unknown): Wishes {
  const of = (kept ?? {}) as Partial<Record<keyof Wishes | "inset", unknown>>;
  const flag = (
    name: "cues" | "alarms" | "suppresses" | "mirrored" | "floats" | "atOnce" | "stays" | "withMicrophone",
  ) => one([true, false], of[name], USUAL_WISHES[name]);
  return {
    source: one(TAKE_SOURCES, of.source, USUAL_WISHES.source),
    audience: one(FIRST_AUDIENCES, of.audience, USUAL_WISHES.audience),
    folder: readFolder(of.folder),
    quality: readQuality(of.quality),
    arrangement: readArrangement(of),
    lens: readLens(of.lens),
    soundLevel: readLevel(of.soundLevel),
    suppresses: flag("suppresses"),
    cues: flag("cues"),
    alarms: flag("alarms"),
    mirrored: flag("mirrored"),
    floats: flag("floats"),
    countIn: one(COUNT_INS, of.countIn, USUAL_WISHES.countIn),
    stopAfter: one(STOPS, of.stopAfter, USUAL_WISHES.stopAfter),
    atOnce: flag("atOnce"),
    stays: flag("stays"),
    withMicrophone: flag("withMicrophone"),
  };
}

/** Before there were scenes, a corner and a size were kept under another name. */
function readArrangement(kept: { arrangement?: unknown; inset?: unknown }): Arrangement {
  const of = (kept.arrangement ?? {}) as Partial<Record<keyof Arrangement, unknown>>;
  const before = (kept.inset ?? {}) as { corner?: unknown; size?: unknown };
  const { scene, place, size } = USUAL_ARRANGEMENT;
  return {
    scene: one(SCENE_KINDS, of.scene, scene),
    place: one(PLACES, of.place ?? before.corner, place),
    size: one(SIZES, of.size ?? before.size, size),
  };
}

function readFolder(kept: unknown): WishedFolder | null {
  const { id, name, workspace } = (kept ?? {}) as Partial<Record<keyof WishedFolder, unknown>>;
  return typeof id === "string" && typeof name === "string" && typeof workspace === "string"
    ? { id, name, workspace }
    : null;
}

const readLevel = (kept: unknown): number =>
  typeof kept === "number" && Number.isInteger(kept) && kept >= 0 && kept <= 100 ? kept : USUAL_WISHES.soundLevel;
