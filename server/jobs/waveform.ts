import { appendFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import sharp from "sharp";
import { retime } from "#core/media/retime";
import { SECOND } from "#core/time/micros";
import { ffmpeg } from "./decoder";
import { GROUND, type ShownSegment, type Source } from "./poster-source";

/** A voice may be hours long. */
const SOUND_DECODER = { megabytes: 2_048, processorSeconds: 120, wallMs: 150_000 };
/** The shape in which a player shows a voice. */
const WAVE = { width: 960, height: 300, colour: "#6FC79D" };

/**
 * How loud a track is along its length as it is shown, drawn: a JPEG.
 * @returns null where nothing of it is here, or where takes differ in how their sound is made
 */
export async function waveformOf(
  { storage, dir, signal }: Source,
  segments: readonly ShownSegment[],
): Promise<Buffer | null> {
  const [track] = segments;
  const alike = ({ init }: ShownSegment) =>
    (["codec", "timescale", "channels"] as const).every((name) => init[name] === track!.init[name]);
  if (!track || !segments.every(alike)) return null;
  const [input, output] = [join(dir, "voice.mp4"), join(dir, "voice.png")];
  await writeFile(input, await storage.get(track.initKey));
  // One after the other: an hour is never in memory as a whole.
  for (const { key, movedUs } of segments) {
    signal.throwIfAborted();
    const later = Math.round((movedUs * track.init.timescale) / SECOND);
    await appendFile(input, retime(await storage.get(key), later));
  }
  const { width, height, colour } = WAVE;
  const drawn = `aformat=channel_layouts=mono,showwavespic=s=${width}x${height}:colors=${colour}:scale=sqrt:draw=full`;
  await ffmpeg(["-i", input, "-filter_complex", drawn, "-frames:v", "1", output], SOUND_DECODER, signal);
  return sharp(output).flatten({ background: GROUND }).jpeg({ quality: 82 }).toBuffer();
}
