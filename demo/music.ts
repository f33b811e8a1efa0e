/**
 * Makes the two tunes of `public/music`, which are played under speech: a few tones, by the numbers below, brought to
 * −22 LUFS. They begin and end in silence, so that they can be played over and over.
 */
import { execFileSync } from "node:child_process";
import { mkdirSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { LoudnessMeter } from "../core/audio/loudness";
import { TUNES, type Tune } from "../core/audio/music";

const RATE = 48_000;
const LUFS = -22;
const OUT = join(dirname(fileURLToPath(import.meta.url)), "..", "public", "music");

/** A tone of equal temperament. @param key as MIDI counts them: 69 is 440 Hz */
const hertz = (key: number) => 440 * 2 ** ((key - 69) / 12);

interface Tone {
  at: number;
  key: number;
  /** how loud it is at first, and for how long it comes and dies away; seconds */
  level: number;
  comes: number;
  dies: number;
  /** how loud each partial is, from the first */
  partials: readonly number[];
}

function add(out: Float32Array, { at, key, level, comes, dies, partials }: Tone): void {
  const begins = Math.round(at * RATE);
  const length = Math.min(out.length - begins, Math.round((comes + 5 * dies) * RATE));
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    const swell = Math.min(1, t / comes) * Math.exp(-Math.max(0, t - comes) / dies);
    let sum = 0;
    partials.forEach((loud, n) => (sum += loud * Math.sin(2 * Math.PI * hertz(key) * (n + 1) * t)));
    out[begins + i]! += level * swell * sum;
  }
}

/** Single tones like struck glass, a bar of three seconds, over a low one. */
function panes(): Tone[] {
  const bars = [
    [62, 69, 74, 78],
    [59, 66, 71, 74],
    [55, 62, 67, 71],
    [57, 64, 69, 73],
  ];
  const order = [0, 2, 1, 3, 2, 1];
  return Array.from({ length: 15 }, (_, bar) => bar).flatMap((bar) => {
    const keys = bars[bar % bars.length]!;
    const low = { at: bar * 3, key: keys[0]! - 12, level: 0.5, comes: 0.04, dies: 1.4, partials: [1, 0.3, 0.1] };
    const struck = order.map((n, i) => ({
      at: bar * 3 + i * 0.5,
      key: keys[n]! + 12,
      level: 0.34 - 0.04 * (i % 3),
      comes: 0.006,
      dies: 0.55,
      partials: [1, 0, 0.22, 0, 0.06],
    }));
    return bar < 14 ? [low, ...struck] : [{ ...low, dies: 0.5 }];
  });
}

/** Slow chords that come and go into each other. */
function dew(): Tone[] {
  const chords = [
    [50, 57, 62, 66, 69],
    [47, 54, 62, 66, 71],
    [43, 55, 62, 67, 71],
    [45, 57, 61, 64, 69],
    [47, 54, 59, 66, 74],
    [43, 50, 59, 67, 74],
    [45, 52, 57, 64, 73],
  ];
  return chords.flatMap((keys, bar) =>
    keys.map((key, n) => ({
      at: bar * 6 + n * 0.18,
      key,
      level: 0.3 / (1 + n * 0.3),
      comes: 2.2,
      dies: 0.9,
      partials: [1, 0.35, 0.16, 0.07],
    })),
  );
}

const MADE: Record<Tune, () => Tone[]> = { panes, dew };

mkdirSync(OUT, { recursive: true });
for (const tune of Object.keys(TUNES) as Tune[]) {
  const samples = new Float32Array(TUNES[tune] * RATE);
  for (const tone of MADE[tune]()) add(samples, tone);
  // The end is silent whatever still sounds there.
  const fade = RATE;
  for (let i = 0; i < fade; i++) samples[samples.length - 1 - i]! *= i / fade;
  const meter = new LoudnessMeter(RATE, 1);
  meter.push([samples]);
  const gain = 10 ** ((LUFS - meter.integrated) / 20);
  execFileSync(
    "ffmpeg",
    [
      ...["-v", "error", "-y", "-f", "f32le", "-ar", String(RATE), "-ac", "1", "-i", "-"],
      ...["-c:a", "aac", "-b:a", "80k", "-map_metadata", "-1", "-movflags", "+faststart", join(OUT, `${tune}.m4a`)],
    ],
    { input: Buffer.from(samples.map((s) => s * gain).buffer) },
  );
}
