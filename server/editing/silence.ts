import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { InitInfo } from "#core/media/init";
import { MediaError } from "#core/media/iso";
import type { Sample } from "#core/media/samples";
import { channelsOf, ffmpeg } from "../jobs/decoder";
import { inFolder } from "../jobs/work-room";
import { samplesIn } from "./encode";

const ENCODER = { megabytes: 1_024, processorSeconds: 10, wallMs: 20_000 };
/** A packet of silence from its middle: the first ones have the encoder's run-in. */
const SETTLED = 8;

/** The same packets with nothing in them. */
export const silentSamples = (samples: readonly Sample[], packet: Uint8Array): Sample[] =>
  samples.map((sample) => ({ ...sample, bytes: packet }));

/**
 * A packet in which nothing is heard, that any decoder of a track takes in the place of one of its own.
 * @param file the init segment of the track, and one segment
 * @param duration of its packets, in ticks
 * @throws {MediaError} for a codec of which none is known
 */
export async function silentPacket(
  init: InitInfo,
  file: Uint8Array,
  duration: number,
  signal: AbortSignal,
): Promise<Uint8Array> {
  return inFolder(async (dir) => {
    const [input, output] = [join(dir, "sound.mp4"), join(dir, "silence.mp4")];
    await writeFile(input, file);
    // What an init segment says of its channels is not always so.
    const channels = Math.min(2, await channelsOf(input, signal));
    const layout = channels === 1 ? "mono" : "stereo";
    await ffmpeg(
      [
        ...["-f", "lavfi", "-i", `anullsrc=r=${init.sampleRate}:cl=${layout}`, "-t", "1"],
        ...encoderOf(init, (duration * 1_000) / init.timescale),
        ...["-movflags", "+empty_moov+default_base_moof+frag_keyframe", "-f", "mp4", output],
      ],
      ENCODER,
      signal,
    );
    const packet = (await samplesIn(output)).samples[SETTLED]?.bytes;
    if (!packet) throw new MediaError("no silence was made");
    return packet;
  });
}

/** @param ms of a packet */
function encoderOf({ codec }: InitInfo, ms: number): string[] {
  if (codec === "opus") return ["-c:a", "libopus", "-frame_duration", String(Math.round(ms)), "-b:a", "32k"];
  if (codec.startsWith("mp4a.40.2")) return ["-c:a", "aac", "-b:a", "64k"];
  throw new MediaError(`Silence in ${codec} cannot be made here. Take the stretch out instead.`);
}
