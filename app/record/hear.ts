import { MEMORY_RATE, type Remembered } from "#core/audio/voice-memory";
import { SECOND, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";

/**
 * Plays a part of a voice from memory, for the presenter alone: nothing is recorded meanwhile.
 * @param part in source time
 * @returns ends it
 */
export function hear({ from, samples }: Remembered, part: Range): () => void {
  const index = (at: Micros) => Math.max(0, Math.round(((at - from) / SECOND) * MEMORY_RATE));
  const heard = samples.subarray(index(part.from), index(part.to));
  if (heard.length === 0) return () => undefined;
  const context = new AudioContext();
  const buffer = context.createBuffer(1, heard.length, MEMORY_RATE);
  buffer.copyToChannel(
    Float32Array.from(heard, (sample) => sample / 32_767),
    0,
  );
  const source = new AudioBufferSourceNode(context, { buffer });
  source.connect(context.destination);
  const end = () => {
    if (context.state !== "closed") void context.close();
  };
  source.onended = end;
  source.start();
  return end;
}
