import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import { filmNotes, type FilmChapter } from "#core/film/notes";
import type { Micros } from "#core/time/micros";
import { writeWebVtt, type Cue } from "#core/time/web-vtt";
import { ffmpeg, type DecoderLimits } from "../jobs/decoder";

/** Nothing is encoded: it is as quick as a disk. */
const LIMITS: DecoderLimits = { megabytes: 2_048, processorSeconds: 300, wallMs: 400_000, gentle: true };

export interface FilmFile {
  /** files that follow each other; none where there is no picture */
  pictures: readonly string[];
  sound: string | null;
  captions: readonly Cue[];
  chapters: readonly FilmChapter[];
  tags: Readonly<Record<string, string>>;
  length: Micros;
}

/**
 * Writes a film as one file: MP4 (ISO/IEC 14496-14), with its table first, so that it plays while it comes; with
 * captions (3GPP TS 26.245), chapters, and what it is called.
 */
export async function writeFilm(film: FilmFile, dir: string, output: string, signal: AbortSignal): Promise<void> {
  const { pictures, sound, captions, chapters, tags, length } = film;
  const inputs: string[][] = [];
  const maps: string[] = [];
  const input = (args: string[], ...streams: string[]) => {
    maps.push(...streams.flatMap((stream) => ["-map", `${inputs.length}:${stream}`]));
    inputs.push(args);
  };
  if (pictures.length === 1) input(["-i", pictures[0]!], "v:0");
  if (pictures.length > 1) {
    const list = join(dir, "pictures.txt");
    await writeFile(list, ["ffconcat version 1.0", ...pictures.map((file) => `file '${file}'`)].join("\n"));
    input(["-f", "concat", "-safe", "0", "-i", list], "v:0");
  }
  if (sound) input(["-i", sound], "a:0");
  if (captions.length > 0) {
    const file = join(dir, "captions.vtt");
    await writeFile(file, writeWebVtt(captions));
    input(["-f", "webvtt", "-i", file], "s:0");
  }
  const notes = join(dir, "notes.txt");
  await writeFile(notes, filmNotes(tags, chapters, length));
  const about = ["-map_metadata", String(inputs.length), "-map_chapters", String(inputs.length)];
  inputs.push(["-f", "ffmetadata", "-i", notes]);
  const written = ["-c:v", "copy", "-c:a", "copy", "-c:s", "mov_text", "-movflags", "+faststart", "-f", "mp4", output];
  await ffmpeg([...inputs.flat(), ...maps, ...about, ...written], LIMITS, signal);
}
