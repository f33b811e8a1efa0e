import type { Suppressing } from "#core/audio/suppressing";
import type { PictureChange } from "#core/media/picture-changes";
import type { SUPPRESSED } from "#core/media/tracks";
import type { Gained } from "#core/recipe/dress";
import type { Micros } from "#core/time/micros";

/** Many small pictures of a take in one: in rows, from the top left. */
export interface Pictures {
  /** when each of them is, in the take */
  at: Micros[];
  width: number;
  height: number;
  columns: number;
}

/** What is known of a take's sounds and pictures. */
export interface Look {
  takeId: string;
  position: number;
  /** false while it is on its way */
  made: boolean;
  pictures: Pictures | null;
  /** where the screen becomes another one, in the take */
  changes: PictureChange[];
  hasVoice: boolean;
  hasSound: boolean;
  measured: Partial<Record<Gained | typeof SUPPRESSED, Measured>>;
  /** where taking the noise out of its voice stands; null where nobody has wanted it */
  suppressed: Suppressing | null;
}

/** How loud a sound is in all: integrated loudness in LUFS, true peak in dBTP (BS.1770-4); null for silence. */
export interface Measured {
  loudness: number | null;
  peak: number | null;
}
