import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type * as runtimeTypes from "onnxruntime-web";
import { expect, it } from "vitest";
import { LevelLine, pausesBetween, pausesIn, SPEECH_RATE } from "#core/audio/pauses";
import { SECOND } from "#core/time/micros";
import { random } from "../../testing/random";
import { likelihoods } from "./likelihoods";

const require = createRequire(import.meta.url);
/** The voice speaks for so long, and then does not. */
const [SPOKEN, ROUND] = [3, 4.5];

/** A voice that pauses, over and over, beside an engine that is nearly as loud, at 16 kHz. */
function besideAnEngine(seconds: number): Int16Array {
  const voice = execFileSync(
    "ffmpeg",
    ["-v", "error", "-i", "public/reference.m4a", "-ac", "1", "-ar", String(SPEECH_RATE), "-f", "s16le", "-"],
    { maxBuffer: 1 << 26 },
  );
  const pick = random(5);
  return Int16Array.from({ length: seconds * SPEECH_RATE }, (_, i) => {
    const at = i % (ROUND * SPEECH_RATE);
    const said = at < SPOKEN * SPEECH_RATE ? voice.readInt16LE(2 * at) : 0;
    return said / 2 + 0.2 * (pick(32_768) - 16_384) + 0.04 * 32_768 * Math.sin((i * 3) / 90);
  });
}

// Outside check: a published model (Silero VAD 5, as its package ships it), run by ONNX Runtime.
it("finds the pauses of a voice beside an engine, where loudness finds none of them", async () => {
  const samples = besideAnEngine(18);
  const runtime = require("onnxruntime-web") as typeof runtimeTypes;
  runtime.env.wasm.numThreads = 1;
  const speech = await likelihoods(
    runtime,
    readFileSync(require.resolve("@ricky0123/vad-web/dist/silero_vad_v5.onnx")),
    samples,
  );
  const pauses = pausesBetween(speech, 0);
  const silent = Array.from({ length: 3 }, (_, n) => [n * ROUND + SPOKEN, (n + 1) * ROUND] as const);
  for (const [from, to] of silent) {
    const there = pauses.filter((pause) => pause.from < to * SECOND && pause.to > from * SECOND);
    expect(Math.max(...there.map((p) => p.to - p.from)), `${from} s: ${JSON.stringify(pauses)}`).toBeGreaterThan(
      SECOND,
    );
    // It ends where somebody speaks again.
    expect(Math.abs(there.at(-1)!.to / SECOND - to)).toBeLessThan(0.5);
  }

  const line = new LevelLine(SPEECH_RATE);
  line.push(Float32Array.from(samples, (sample) => sample / 32_768));
  const byLoudness = pausesIn(line.levels({ from: 0, to: Infinity }), 0);
  const found = silent.filter(([from, to]) =>
    byLoudness.some((p) => p.from < to * SECOND && p.to > from * SECOND && p.to - p.from > SECOND),
  );
  expect(found).toEqual([]);
}, 60_000);
