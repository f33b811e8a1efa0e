import { pausesBetween } from "#core/audio/pauses";
import { MEMORY_RATE, type Remembered } from "#core/audio/voice-memory";
import { SECOND } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { SpeechReport, SpeechWanted } from "./messages";

/** A minute takes two to three seconds on a slow computer; nobody waits for longer. */
const LISTENED: number = 60 * MEMORY_RATE;

/**
 * The pauses in the last minute of a voice, by a model that tells speech from other sound. It is large, and loaded by
 * whoever goes back only.
 * @returns null where it cannot be had or run here
 */
export function pausesHeard({ to, samples }: Remembered, signal: AbortSignal): Promise<Range[] | null> {
  const worker = new Worker(new URL("./speech.worker.ts", import.meta.url), { type: "module" });
  const last = samples.slice(-LISTENED);
  const from = to - Math.round((last.length * SECOND) / MEMORY_RATE);
  return new Promise<Range[] | null>((done) => {
    worker.onmessage = ({ data }: MessageEvent<SpeechReport>) => done(data.speech && pausesBetween(data.speech, from));
    worker.onerror = () => done(null);
    signal.addEventListener("abort", () => done(null));
    worker.postMessage({ samples: last } satisfies SpeechWanted, [last.buffer]);
  }).finally(() => worker.terminate());
}
