import type { PictureChange } from "#core/media/picture-changes";
import { spreadOver } from "#core/check/others";
import { startOfTake } from "#core/recipe/source-line";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { KnownRecording } from "../access/facts";
import type { Looks } from "../editing/looks";
import type { Pictures } from "../editing/look";
import type { Playable, Playback } from "../playback/playback";
import { shownLineOf, shownOnly } from "../recordings/shown-lines";
import { CAMERAS_SHOWN } from "./sql";

/** So many pictures are looked through. */
const MOST = 60;

/** A moment at which the screen becomes another one, and a picture of what stands there from then on. */
export interface Sight {
  /** as it is shown */
  at: Micros;
  /** in the strip of the take at this position: which picture, and how that strip is laid out */
  picture: { position: number; n: number; strip: Omit<Pictures, "at"> } | null;
}

/** A picture in which faces can be looked for, and when. */
export interface FacesWish {
  of: "screen" | "camera";
  url: string;
  /** as it is shown, in order */
  at: Micros[];
}

/** What somebody should look at before others see a recording. */
export interface Glance {
  /** the beginning of each take, and the greatest changes, in the order shown */
  sights: Sight[];
  /** how many changes there are besides */
  more: number;
  /** how many cameras are shown */
  cameras: number;
  /** of the screen where it changes, of the camera all along */
  faces: FacesWish[];
  /** false while some of it has not been looked over */
  whole: boolean;
}

/** Who may see it is checked by the callers. */
export async function glanceOf(
  { db, looks, playback }: { db: Database; looks: Looks; playback: Playback },
  { id, token }: KnownRecording,
): Promise<Glance> {
  const [all, line, [counted], playable] = await Promise.all([
    looks.of(id),
    shownLineOf(db, id),
    db.rows<{ cameras: number }>(CAMERAS_SHOWN, [id]),
    playback.playable(id, token),
  ]);
  const moments = all.flatMap(({ position, pictures, changes }) =>
    pictures
      ? [{ at: 0, share: 1 }, ...changes].map((change: PictureChange) => ({
          at: startOfTake(position) + change.at,
          share: change.share,
          picture: pictureFrom(pictures, position, change.at),
        }))
      : [],
  );
  const shown = shownOnly(line, moments);
  const greatest = new Set([...shown].sort((a, b) => b.share - a.share).slice(0, MOST));
  const sights = shown.filter((one) => greatest.has(one)).map(({ at, picture }) => ({ at, picture }));
  return {
    sights,
    more: shown.length - greatest.size,
    cameras: counted?.cameras ?? 0,
    faces: playable ? facesIn(playable, sights) : [],
    whole: all.every(({ made }) => made),
  };
}

/** Where faces can be looked for: in what is shown, and in nothing that is hidden. */
function facesIn({ layers, durationUs }: Playable, sights: readonly Sight[]): FacesWish[] {
  return layers.flatMap(({ name, url, spans = [{ from: 0, to: durationUs }], size }): FacesWish[] => {
    if (!size) return [];
    if (name !== "screen") return [{ of: "camera", url, at: spreadOver(spans) }];
    const seen = sights.filter(({ at }) => spans.some(({ from, to }) => at >= from && at < to));
    return [{ of: "screen", url, at: seen.map(({ at }) => at) }];
  });
}

/** The first picture from a moment on; the last one where there is none. */
function pictureFrom({ at, ...strip }: Pictures, position: number, moment: Micros): Sight["picture"] {
  if (at.length === 0) return null;
  const found = at.findIndex((one) => one >= moment);
  return { position, n: found < 0 ? at.length - 1 : found, strip };
}
