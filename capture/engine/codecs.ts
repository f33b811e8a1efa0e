import { canEncodeVideo, type VideoCodec } from "mediabunny";

/** H.264 plays everywhere; VP9 and VP8 are what is left where it cannot be encoded. */
export const PREFERRED: readonly VideoCodec[] = ["avc", "vp9", "vp8"];

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
