import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { splitTrack, type SplitTrack } from "../core/media/split";

export type MadeTrack = SplitTrack;

/** Picture kinds are test patterns, the others a sine. Sizes are small: the bytes matter, not the looks. */
export type MadeKind = "screen" | "camera" | "screen-1080" | "camera-480" | "microphone" | "vp9" | "aac" | "mp3";

const INPUT: Record<MadeKind, string[]> = {
  screen: ["-f", "lavfi", "-i", "testsrc2=size=640x360:rate=15", "-c:v", "libx264", "-preset", "ultrafast"],
  camera: ["-f", "lavfi", "-i", "testsrc=size=320x240:rate=15", "-c:v", "libx264", "-preset", "ultrafast"],
  // As the recorder makes them of moving pictures: 30 a second.
  "screen-1080": ["-f", "lavfi", "-i", "testsrc2=size=1920x1080:rate=30", "-c:v", "libx264", "-preset", "ultrafast"],
  "camera-480": ["-f", "lavfi", "-i", "testsrc=size=640x480:rate=30", "-c:v", "libx264", "-preset", "ultrafast"],
  vp9: [
    "-f",
    "lavfi",
    "-i",
    "testsrc=size=320x240:rate=15",
    "-c:v",
    "libvpx-vp9",
    "-deadline",
    "realtime",
    "-cpu-used",
    "8",
  ],
  microphone: ["-f", "lavfi", "-i", "sine=frequency=440:sample_rate=48000", "-c:a", "libopus", "-b:a", "64k"],
  mp3: ["-f", "lavfi", "-i", "sine=frequency=440:sample_rate=48000", "-c:a", "libmp3lame"],
  aac: ["-f", "lavfi", "-i", "sine=frequency=440:sample_rate=48000", "-c:a", "aac"],
};

const made = new Map<string, MadeTrack>();

/** A track of so many seconds in 2 s segments, written by ffmpeg's fragmented MP4 muxer (not by our own code). */
export function makeTrack(kind: MadeKind, seconds: number): MadeTrack {
  const key = `${kind}-${seconds}`;
  let track = made.get(key);
  if (!track) made.set(key, (track = encode(kind, seconds)));
  return track;
}

function encode(kind: MadeKind, seconds: number): MadeTrack {
  const dir = mkdtempSync(join(tmpdir(), "take-"));
  try {
    const file = join(dir, "out.mp4");
    const picture = kind !== "microphone" && kind !== "aac" && kind !== "mp3";
    const gop = kind === "screen-1080" || kind === "camera-480" ? "60" : "30";
    execFileSync("ffmpeg", [
      "-v",
      "error",
      "-y",
      ...INPUT[kind],
      "-t",
      String(seconds),
      ...(picture ? ["-g", gop, "-keyint_min", gop, "-sc_threshold", "0", "-bf", "0", "-pix_fmt", "yuv420p"] : []),
      "-movflags",
      "+empty_moov+default_base_moof" + (picture ? "+frag_keyframe" : ""),
      ...(picture ? [] : ["-frag_duration", "2000000"]),
      file,
    ]);
    return splitTrack(readFileSync(file));
  } finally {
    rmSync(dir, { recursive: true });
  }
}

/** What ffprobe says of the packets of a file in memory: how many, where the first is, how long in all (seconds). */
export function probePackets(bytes: Uint8Array): { packets: number; start: number; duration: number; codec: string } {
  const dir = mkdtempSync(join(tmpdir(), "probe-"));
  try {
    const file = join(dir, "in.mp4");
    execFileSync("dd", [`of=${file}`, "status=none"], { input: bytes });
    const out = JSON.parse(
      execFileSync("ffprobe", ["-v", "error", "-show_packets", "-show_streams", "-of", "json", file], {
        maxBuffer: 2 ** 28,
      }).toString(),
    ) as { packets: { pts_time: string; duration_time?: string }[]; streams: { codec_name: string }[] };
    const starts = out.packets.map((p) => Number(p.pts_time));
    const ends = out.packets.map((p) => Number(p.pts_time) + (Number(p.duration_time) || 0));
    const start = Math.min(...starts);
    return {
      packets: out.packets.length,
      start,
      duration: Math.max(...ends) - start,
      codec: out.streams[0]!.codec_name,
    };
  } finally {
    rmSync(dir, { recursive: true });
  }
}

/** Everything ffmpeg complains of when it decodes these bytes; empty when it is content. */
export function decodeComplaints(bytes: Uint8Array): string {
  const dir = mkdtempSync(join(tmpdir(), "decode-"));
  try {
    const file = join(dir, "in.mp4");
    execFileSync("dd", [`of=${file}`, "status=none"], { input: bytes });
    execFileSync("sh", ["-c", `ffmpeg -v error -i ${file} -f null - 2> ${dir}/log`]);
    return readFileSync(join(dir, "log"), "utf8").trim();
  } finally {
    rmSync(dir, { recursive: true });
  }
}

export const joinBytes = (...parts: Uint8Array[]): Uint8Array => Buffer.concat(parts);
