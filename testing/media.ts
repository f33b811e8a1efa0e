import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { deserialize, serialize } from "node:v8";
import { splitTrack, type SplitTrack } from "../core/media/split";

export type MadeTrack = SplitTrack;

/** Picture kinds are test patterns, the others a sine. Sizes are small: the bytes matter, not the looks. */
export type MadeKind =
  | "screen"
  | "camera"
  | "screen-1080"
  | "camera-480"
  | "microphone"
  | "vp9"
  | "aac"
  | "mp3"
  | "numbered"
  | "numbered-half"
  | "numbered-vp9"
  | "chirp"
  | "chirp-opus"
  | "noisy"
  | "noisy-opus";

/** Sixteen bars that tell the number of a picture in binary, the lowest bit at the left. */
const NUMBERED =
  "color=black:size=320x240:rate=30,format=yuvj420p,geq=lum='235*mod(floor(N/pow(2,floor(X/20))),2)':cb=128:cr=128";
/** Sound whose pitch tells its place. */
const CHIRP = "aevalsrc='0.4*sin(2*PI*(200*t+20*t*t))':sample_rate=48000";
/** A synthetic voice in a room with a fan. */
const NOISY = [
  ...["-stream_loop", "-1", "-i", "public/reference.m4a", "-f", "lavfi", "-i", "anoisesrc=a=0.02:r=48000:s=1"],
  ...["-filter_complex", "[0:a]aresample=48000,pan=mono|c0=c0[voice];[voice][1:a]amix=normalize=0", "-ac", "1"],
];
const AS_RECORDED = ["-c:v", "libx264", "-preset", "ultrafast", "-qp", "12", "-video_track_timescale", "30"];

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
  numbered: ["-f", "lavfi", "-i", NUMBERED, ...AS_RECORDED],
  // As a recorder that does not keep up: every second picture stands for two.
  "numbered-half": ["-f", "lavfi", "-i", `${NUMBERED},select='not(mod(n,2))'`, "-fps_mode", "vfr", ...AS_RECORDED],
  "numbered-vp9": [
    ...["-f", "lavfi", "-i", `${NUMBERED},format=yuv420p`, "-c:v", "libvpx-vp9", "-deadline", "realtime"],
    ...["-cpu-used", "8", "-b:v", "2M", "-video_track_timescale", "30"],
  ],
  chirp: ["-f", "lavfi", "-i", CHIRP, "-c:a", "aac", "-b:a", "96k"],
  noisy: [...NOISY, "-c:a", "aac", "-b:a", "128k"],
  "noisy-opus": [...NOISY, "-c:a", "libopus", "-b:a", "96k"],
  "chirp-opus": ["-f", "lavfi", "-i", CHIRP, "-c:a", "libopus", "-b:a", "64k"],
};

const made = new Map<string, MadeTrack>();

/** A track of so many seconds in 2 s segments, written by ffmpeg's fragmented MP4 muxer (not by our own code). */
export function makeTrack(kind: MadeKind, seconds: number): MadeTrack {
  const key = `${kind}-${seconds}`;
  let track = made.get(key);
  if (!track) made.set(key, (track = encode(kind, seconds)));
  return track;
}

/** A track that shows one picture (PNG) for so many seconds, written in the same way. */
export const pictured = (png: Uint8Array, seconds: number): MadeTrack =>
  withFile(png, (file) =>
    written(
      seconds,
      ["-loop", "1", "-framerate", "15", "-f", "image2", "-i", file],
      [
        ...["-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "30", "-keyint_min", "30"],
        ...["-bf", "0", "-movflags", "+empty_moov+default_base_moof+frag_keyframe"],
      ],
    ),
  );

function written(seconds: number, input: string[], output: string[]): MadeTrack {
  const dir = mkdtempSync(join(tmpdir(), "take-"));
  try {
    const file = join(dir, "out.mp4");
    execFileSync("ffmpeg", ["-v", "error", "-y", ...input, "-t", String(seconds), ...output, file]);
    return splitTrack(readFileSync(file));
  } finally {
    rmSync(dir, { recursive: true });
  }
}

/** Where what was encoded once is kept for the next run. */
const KEPT = join(dirname(fileURLToPath(import.meta.url)), "../node_modules/.cache/clear-nod/media");

/** The same, encoded once for all that decides what it is: the arguments, the encoder, and the files that it reads. */
function writtenOnce(seconds: number, input: string[], output: string[]): MadeTrack {
  const digest = createHash("sha256")
    .update(JSON.stringify([seconds, input, output]))
    .update(encoder());
  for (const [i, name] of input.entries())
    if (input[i - 1] === "-i" && existsSync(name)) digest.update(readFileSync(name));
  const file = join(KEPT, digest.digest("hex").slice(0, 24));
  if (!existsSync(file)) {
    mkdirSync(KEPT, { recursive: true });
    // Two processes may make the same: what is there is whole, whoever made it.
    const half = `${file}.${process.pid}`;
    writeFileSync(half, serialize(written(seconds, input, output)));
    renameSync(half, file);
  }
  return deserialize(readFileSync(file)) as MadeTrack;
}

let version: Buffer | undefined;
const encoder = () => (version ??= execFileSync("ffmpeg", ["-version"]));

function encode(kind: MadeKind, seconds: number): MadeTrack {
  const picture = !["microphone", "aac", "mp3"].includes(kind) && !/^(chirp|noisy)/.test(kind);
  const numbered = kind.startsWith("numbered");
  const gop = kind === "numbered-half" ? "23" : numbered ? "45" : /1080|480/.test(kind) ? "60" : "30";
  return writtenOnce(seconds, INPUT[kind], [
    ...(picture ? ["-g", gop, "-keyint_min", gop, "-sc_threshold", "0", "-bf", "0"] : []),
    ...(picture && !numbered ? ["-pix_fmt", "yuv420p"] : []),
    ...["-movflags", "+empty_moov+default_base_moof" + (picture ? "+frag_keyframe" : "")],
    ...(picture ? [] : ["-frag_duration", "2000000"]),
  ]);
}

/** Bytes as a file, for a program that reads one. */
function withFile<T>(bytes: Uint8Array, work: (file: string) => T): T {
  const dir = mkdtempSync(join(tmpdir(), "bytes-"));
  try {
    const file = join(dir, "in.mp4");
    writeFileSync(file, bytes);
    return work(file);
  } finally {
    rmSync(dir, { recursive: true });
  }
}

/** What ffprobe says of the packets of a file in memory: how many, where the first is, how long in all (seconds). */
export function probePackets(bytes: Uint8Array): { packets: number; start: number; duration: number; codec: string } {
  const told = ["-v", "error", "-show_packets", "-show_streams", "-of", "json"];
  const out = JSON.parse(
    withFile(bytes, (file) => execFileSync("ffprobe", [...told, file], { maxBuffer: 2 ** 28 })).toString(),
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
}

/** The times of all packets of a file in memory, in seconds, by ffprobe. */
export function packetTimes(bytes: Uint8Array): number[] {
  const told = ["-v", "error", "-show_entries", "packet=pts_time", "-of", "csv=p=0"];
  const out = withFile(bytes, (file) => execFileSync("ffprobe", [...told, file])).toString();
  return out.trim().split("\n").map(Number);
}

/** Everything ffmpeg complains of when it decodes these bytes; empty when it is content. */
export const decodeComplaints = (bytes: Uint8Array): string =>
  withFile(bytes, (file) => {
    execFileSync("sh", ["-c", `ffmpeg -v error -i ${file} -f null - 2> ${file}.log`]);
    return readFileSync(`${file}.log`, "utf8").trim();
  });

export const joinBytes = (...parts: Uint8Array[]): Uint8Array => Buffer.concat(parts);

/** What ffmpeg gives for a file in memory. */
const decoded = (bytes: Uint8Array, args: string[]): Buffer =>
  withFile(bytes, (file) => execFileSync("ffmpeg", ["-v", "error", "-i", file, ...args, "-"], { maxBuffer: 2 ** 30 }));

/**
 * The numbers that the pictures of a numbered track show, each as often as it stands for a thirtieth of a second.
 * @param of where something lies over them: a filter that leaves a part that is free
 */
export function pictureNumbers(bytes: Uint8Array, of = "null"): number[] {
  const filter = `fps=30,${of},scale=16:1:flags=area,format=gray`;
  const bars = decoded(bytes, ["-vf", filter, "-f", "rawvideo"]);
  return Array.from({ length: bars.length / 16 }, (_, n) =>
    bars.subarray(16 * n, 16 * n + 16).reduce((number, bar, bit) => number + (bar > 117 ? 2 ** bit : 0), 0),
  );
}

/** One picture of a file, as raw RGB. @param filter what is made of it before */
export const pictureAt = (bytes: Uint8Array, n: number, filter = "null"): Buffer =>
  decoded(bytes, ["-vf", `select=eq(n\\,${n}),${filter},format=rgb24`, "-frames:v", "1", "-f", "rawvideo"]);

/** The samples of the first channel of a sound, 48,000 a second. */
export function soundSamples(bytes: Uint8Array): Float32Array {
  const raw = decoded(bytes, ["-af", "pan=mono|c0=c0", "-ar", "48000", "-f", "f32le"]);
  return new Float32Array(new Uint8Array(raw).buffer);
}
