import { canEncodeVideo, type VideoCodec } from "mediabunny";

/** H.264 plays everywhere; VP9 and VP8 are what is left where it cannot be encoded. */
export const PREFERRED: readonly VideoCodec[] = ["avc", "vp9", "vp8"];

export type SoundCodec = "aac" | "opus";

/** Logical processors from which on there is room for an AAC encoder beside those of the pictures. */
const CORES_FOR_AAC = 4;

/**
 * AAC is what every player of MP4 knows, but its encoder is WebAssembly: 9 s of processor a recorded minute more than
 * the browser's own Opus. On two cores that took 1080p from 96 % of its pictures to 56 % (docs/performance.md).
 * @param cores `navigator.hardwareConcurrency`
 */
export const chooseSoundCodec = (cores: number): SoundCodec => (cores >= CORES_FOR_AAC ? "aac" : "opus");

export interface PictureSize {
  width: number;
  height: number;
  bitrate: number;
}

/** The first codec of the preferred ones that this browser encodes at this size. @throws {Error} when there is none */
export async function chooseCodec(size: PictureSize, can: typeof canEncodeVideo = canEncodeVideo): Promise<VideoCodec> {
  for (const codec of PREFERRED) if (await can(codec, size)) return codec;
  throw new Error(`This browser encodes none of H.264, VP9 and VP8 at ${size.width} × ${size.height}.`);
}
