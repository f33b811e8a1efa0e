import type { TrackKind } from "./tracks";

/** What each kind of track is encoded at, in bits a second; a voice and sounds at the most. */
export const BIT_RATES: Record<TrackKind, number> = {
  screen: 2_500_000,
  camera: 700_000,
  microphone: 96_000,
  sound: 128_000,
};

/** What these tracks make together at the most, in bits a second. */
export const bitsASecond = (kinds: readonly TrackKind[]): number =>
  kinds.reduce((sum, kind) => sum + BIT_RATES[kind], 0);

/** What a minute of these tracks takes at the most, in bytes. */
export const bytesAMinute = (kinds: readonly TrackKind[]): number => (bitsASecond(kinds) * 60) / 8;
