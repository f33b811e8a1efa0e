import { appendFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import sharp from "sharp";
import { ffmpeg } from "./decoder";
import { GROUND, type PosterTrack, type Source } from "./poster-source";

/** A voice may be hours long. */
const SOUND_DECODER = { megabytes: 2_048, processorSeconds: 120, wallMs: 150_000 };
/** The shape in which a player shows a voice. */
const WAVE = { width: 960, height: 300, colour: "#6FC79D" };

/** How loud a whole track is along its length, drawn: a JPEG. @returns null where nothing of it is here */
export async function waveformOf({ db, storage, dir, signal }: Source, track: PosterTrack): Promise<Buffer | null> {
  const segments = await db.models.Segment.findAll({
    where: { trackId: track.id },
    attributes: ["key"],
    order: ["number"],
    raw: true,
  });
  if (segments.length === 0) return null;
  const [input, output] = [join(dir, "voice.mp4"), join(dir, "voice.png")];
  await writeFile(input, await storage.get(track.initKey));
  // One after the other: an hour is never in memory as a whole.
  for (const { key } of segments) {
    signal.throwIfAborted();
    await appendFile(input, await storage.get(key));
  }
  const { width, height, colour } = WAVE;
  const drawn = `aformat=channel_layouts=mono,showwavespic=s=${width}x${height}:colors=${colour}:scale=sqrt:draw=full`;
  await ffmpeg(["-i", input, "-filter_complex", drawn, "-frames:v", "1", output], SOUND_DECODER, signal);
  return sharp(output).flatten({ background: GROUND }).jpeg({ quality: 82 }).toBuffer();
}
