import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { readInit, type InitInfo } from "#core/media/init";
import { MediaError } from "#core/media/iso";
import { readSamples, type Sample } from "#core/media/samples";
import { joinBytes, splitTrack } from "#core/media/split";
import { PICTURE_RATE } from "#core/media/tracks";
import { ffmpeg, picturesOf } from "../jobs/decoder";

const EDGE_ENCODER = { megabytes: 2_048, processorSeconds: 60, wallMs: 90_000 };

/** What is encoded: some of the pictures of one segment. */
export interface Wanted {
  /** the init segment and the segment */
  bytes: readonly Uint8Array[];
  init: InitInfo;
  /** where the segment begins, and the part of it, in ticks */
  start: number;
  from: number;
  to: number;
  /** number of the parameter sets, of H.264 */
  sets: number;
}

export interface Encoded {
  init: Uint8Array;
  samples: Sample[];
}

/**
 * Encodes a part of a segment, so that it can be decoded by itself: its first picture is a key frame. A picture that
 * stands since before its beginning is its first one. Sample entries and colours are those of the source.
 * @param dir to work in; emptied by whoever made it
 * @throws {MediaError} where the codec cannot be encoded here
 */
export async function encodePart(wanted: Wanted, dir: string, signal: AbortSignal): Promise<Encoded> {
  const { init, start, from, to } = wanted;
  const rate = rateOf(init);
  const place = (tick: number) => Math.round(((tick - start) * rate) / init.timescale);
  const [first, end] = [place(from), Math.max(place(to), place(from) + 1)];
  const [input, output] = [join(dir, "part-in.mp4"), join(dir, "part-out.mp4")];
  await writeFile(input, joinBytes(wanted.bytes));
  const steps = [...picturesOf(rate, first, end), `setpts=N/(${rate}*TB)`];
  await ffmpeg(
    [
      ...["-i", input, "-an", "-vf", steps.join(","), "-fps_mode", "passthrough", "-frames:v", String(end - first)],
      ...codecArguments(wanted),
      ...["-threads", "1", "-g", "9999", "-video_track_timescale", String(rate)],
      ...["-movflags", "+empty_moov+default_base_moof", "-f", "mp4", output],
    ],
    EDGE_ENCODER,
    signal,
  );
  const made = await samplesIn(output);
  const at = (n: number) => (n === made.samples.length ? to : from + Math.round((n * init.timescale) / rate));
  return { init: made.init, samples: made.samples.map((sample, n) => ({ ...sample, duration: at(n + 1) - at(n) })) };
}

/** The init segment and all samples of a fragmented file of one track. */
export async function samplesIn(file: string): Promise<Encoded> {
  const { init, segments } = splitTrack(await readFile(file));
  const info = readInit(init);
  return { init, samples: segments.flatMap((segment) => readSamples(segment, info).samples) };
}

/** One picture for each tick, where ticks are pictures as in what our recorder makes. */
const rateOf = ({ timescale }: InitInfo) => (timescale <= 60 ? timescale : PICTURE_RATE);

function codecArguments({ init, sets }: Wanted): string[] {
  const [name, profile] = init.codec.split(".");
  if (name === "avc1" || name === "avc3") {
    const level = parseInt(profile!.slice(4), 16) / 10;
    return [
      // The quickest there is: somebody waits for it, and it is 44 pictures at the most (docs/performance.md).
      ...["-c:v", "libx264", "-preset", "ultrafast", "-crf", "18", "-bf", "0", "-sc_threshold", "0"],
      ...["-profile:v", "high", "-level", level.toFixed(1), "-x264-params", `sps-id=${sets}`],
    ];
  }
  if (name === "vp09")
    return [
      ...["-c:v", "libvpx-vp9", "-deadline", "realtime", "-cpu-used", "6", "-crf", "24", "-b:v", "0"],
      ...["-lag-in-frames", "0", "-auto-alt-ref", "0"],
    ];
  throw new MediaError(`A part of a picture in ${init.codec} cannot be made here.`);
}
