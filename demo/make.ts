/**
 * Makes the media of the sample recordings: drawn screens, drawn presenters that move with their speech, synthetic
 * speech. Each track comes out in the form a
 * browser's recorder gives it: one track a file, an init segment, then segments of 1.5 s that begin with a key frame.
 * What was said when stands in `lines.json`.
 */
import { execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import sharp from "sharp";
import { SEGMENT_SECONDS } from "../core/media/tracks";
import { MEMBERS, type Voice } from "./people";
import { CAMERA, drawPresenter, type Pose } from "./presenter";
import { SCRIPTS, type Script } from "./scenario";
import { draw, SCREEN, withPointer } from "./screens";

const MEDIA = join(dirname(fileURLToPath(import.meta.url)), "media");
const RATE = 48_000;
/** Frames a second of both pictures: enough for drawings, and half of the recorder's grid. */
const FPS = 15;
const REST = 0.45;
const LEAD_IN = 0.4;

/** When a line of a script is said, in seconds. */
export interface SpokenLine {
  from: number;
  to: number;
}

/** Pictures from one key frame to the next: a whole number, and no more than a segment has. */
const KEY_EVERY = Math.floor(FPS * SEGMENT_SECONDS);
const GOP = [
  "-g",
  String(KEY_EVERY),
  "-keyint_min",
  String(KEY_EVERY),
  "-sc_threshold",
  "0",
  "-bf",
  "0",
  "-pix_fmt",
  "yuv420p",
];
const FRAGMENTS = ["-movflags", "+empty_moov+default_base_moof+frag_keyframe"];

const ffmpeg = (...args: string[]) => execFileSync("ffmpeg", ["-v", "error", "-y", ...args], { maxBuffer: 2 ** 28 });

/** A sentence as samples of one channel at 48 kHz, -1 to 1. */
function speak(words: string, { name, stretch, pitch }: Voice, dir: string): Float32Array {
  const wav = join(dir, "line.wav");
  execFileSync("flite", ["-voice", name, "--setf", `duration_stretch=${stretch * pitch}`, "-t", words, wav]);
  // Played at another speed for the pitch; the speech was stretched the other way before.
  const raw = ffmpeg(
    "-i",
    wav,
    "-af",
    `asetrate=16000*${pitch},aresample=${RATE},highpass=f=70,loudnorm=I=-19:TP=-3:LRA=7`,
    "-ac",
    "1",
    "-ar",
    String(RATE),
    "-f",
    "f32le",
    "-",
  );
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
}

function speech(script: Script, dir: string): { sound: Float32Array; lines: SpokenLine[] } {
  const { voice } = MEMBERS.find((m) => m.key === script.by)!;
  const said = script.lines.map((line) => speak(line.say, voice, dir));
  const rests = script.lines.map((line) => Math.round((line.rest ?? REST) * RATE));
  const length = Math.round(LEAD_IN * RATE) + said.reduce((sum, s, i) => sum + s.length + rests[i]!, 0);
  const sound = new Float32Array(length);
  const lines: SpokenLine[] = [];
  let at = Math.round(LEAD_IN * RATE);
  for (const [i, samples] of said.entries()) {
    sound.set(samples, at);
    lines.push({ from: at / RATE, to: (at + samples.length) / RATE });
    at += samples.length + rests[i]!;
  }
  return { sound, lines };
}

function writeSound(sound: Float32Array, out: string): void {
  const input = join(dirname(out), "sound.f32");
  writeFileSync(input, Buffer.from(sound.buffer));
  ffmpeg(
    "-f",
    "f32le",
    "-ar",
    String(RATE),
    "-ac",
    "1",
    "-i",
    input,
    "-c:a",
    "aac",
    "-b:a",
    "64k",
    // The first packet is the encoder's delay: without it sound begins at 0, as the recorder has it.
    "-bsf:a",
    "noise=drop='eq(n,0)'",
    "-movflags",
    "+empty_moov+default_base_moof",
    "-frag_duration",
    String(SEGMENT_SECONDS * 1_000_000),
    out,
  );
  rmSync(input);
}

/** A picture for each change, held until the next one; the pointer goes from place to place. */
async function writeScreen(
  script: Script,
  lines: SpokenLine[],
  seconds: number,
  dir: string,
  out: string,
): Promise<void> {
  const stills: { file: string; from: number }[] = [];
  let pointer = { x: 1180, y: 660 };
  let shown = script.lines.find((l) => l.show)!.show!;
  const add = async (svg: string, from: number) => {
    const file = join(dir, `s${stills.length}.png`);
    await sharp(Buffer.from(svg)).png().toFile(file);
    stills.push({ file, from });
  };
  for (const [i, line] of script.lines.entries()) {
    shown = line.show ?? shown;
    const { svg, focus } = draw(shown);
    const start = i === 0 ? 0 : lines[i]!.from - 0.2;
    const STEPS = 6;
    for (let step = 0; step <= STEPS; step++) {
      const part = step / STEPS;
      const eased = part * part * (3 - 2 * part);
      await add(
        withPointer(svg, {
          x: Math.round(pointer.x + (focus.x - pointer.x) * eased),
          y: Math.round(pointer.y + (focus.y - pointer.y) * eased),
        }),
        start + part * 0.8,
      );
    }
    pointer = focus;
  }
  const list = stills
    .map(
      ({ file, from }, i) =>
        `file '${file}'\nduration ${Math.max(1 / FPS, (stills[i + 1]?.from ?? seconds) - from).toFixed(4)}`,
    )
    .join("\n");
  const concat = join(dir, "stills.txt");
  writeFileSync(concat, `${list}\nfile '${stills.at(-1)!.file}'\n`);
  ffmpeg(
    "-f",
    "concat",
    "-safe",
    "0",
    "-i",
    concat,
    "-vf",
    `fps=${FPS},scale=${SCREEN.width}:${SCREEN.height}`,
    "-t",
    seconds.toFixed(3),
    "-c:v",
    "libx264",
    "-profile:v",
    "high",
    "-preset",
    "slow",
    "-tune",
    "stillimage",
    "-crf",
    "26",
    ...GOP,
    ...FRAGMENTS,
    out,
  );
}

/** How loud each frame is, 0 to 1, against the loudest. */
function envelope(sound: Float32Array, frames: number): number[] {
  const size = RATE / FPS;
  const levels = Array.from({ length: frames }, (_, i) => {
    const part = sound.subarray(i * size, (i + 1) * size);
    return Math.sqrt(part.reduce((sum, s) => sum + s * s, 0) / Math.max(1, part.length));
  });
  const most = Math.max(1e-6, ...levels);
  return levels.map((l) => l / most);
}

async function writeCamera(script: Script, sound: Float32Array, seconds: number, out: string): Promise<void> {
  const { look } = MEMBERS.find((m) => m.key === script.by)!;
  const sprites = new Map<string, Buffer>();
  const sprite = async (pose: Pose) => {
    const name = JSON.stringify(pose);
    let raw = sprites.get(name);
    if (!raw)
      sprites.set(
        name,
        (raw = await sharp(Buffer.from(drawPresenter(look, pose)))
          .removeAlpha()
          .raw()
          .toBuffer()),
      );
    return raw;
  };
  const frames = Math.ceil(seconds * FPS);
  const encoder = spawn(
    "ffmpeg",
    [
      "-v",
      "error",
      "-y",
      "-f",
      "rawvideo",
      "-pix_fmt",
      "rgb24",
      "-s",
      `${CAMERA.width}x${CAMERA.height}`,
      "-r",
      String(FPS),
      "-i",
      "-",
      "-c:v",
      "libx264",
      "-profile:v",
      "high",
      "-preset",
      "slow",
      "-tune",
      "animation",
      "-crf",
      "31",
      ...GOP,
      ...FRAGMENTS,
      out,
    ],
    { stdio: ["pipe", "inherit", "inherit"] },
  );
  const ended = once(encoder, "exit");
  for (const [i, level] of envelope(sound, frames).entries()) {
    const pose = {
      mouth: level < 0.06 ? 0 : Math.min(4, 1 + Math.floor(level * 4)),
      blinks: i % 52 > 49,
      lean: Math.round(2 * Math.sin(i / 23) * Math.sin(i / 61)),
    };
    if (!encoder.stdin.write(await sprite(pose))) await once(encoder.stdin, "drain");
  }
  encoder.stdin.end();
  const [code] = (await ended) as [number];
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}`);
}

const wanted = process.argv.slice(2);
for (const script of SCRIPTS) {
  if (wanted.length > 0 && !wanted.includes(script.slug)) continue;
  const dir = mkdtempSync(join(tmpdir(), "demo-"));
  const out = join(MEDIA, script.slug);
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  const { sound, lines } = speech(script, dir);
  const seconds = sound.length / RATE;
  writeSound(sound, join(out, "microphone.mp4"));
  if (script.source.startsWith("screen")) await writeScreen(script, lines, seconds, dir, join(out, "screen.mp4"));
  if (script.source.endsWith("camera")) await writeCamera(script, sound, seconds, join(out, "camera.mp4"));
  writeFileSync(
    join(out, "lines.json"),
    JSON.stringify(lines.map((l) => ({ from: Math.round(l.from * 1000) / 1000, to: Math.round(l.to * 1000) / 1000 }))) +
      "\n",
  );
  rmSync(dir, { recursive: true });
  const bytes = ["screen", "camera", "microphone"].map((kind) => {
    try {
      return readFileSync(join(out, `${kind}.mp4`)).length;
    } catch {
      return 0;
    }
  });
  process.stdout.write(
    `${script.slug.padEnd(18)} ${seconds.toFixed(1)} s  ${bytes.map((b) => `${Math.round(b / 1000)} kB`).join("  ")}\n`,
  );
}
