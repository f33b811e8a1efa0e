import type * as runtimeTypes from "onnxruntime-web/wasm";
import { SPEECH_FRAME, SPEECH_RATE } from "#core/audio/pauses";

/** Samples before a frame that the model sees with it. */
const CONTEXT = 64;

/** What runs models: ONNX Runtime, by whatever name it was loaded. */
export type ModelRuntime = Pick<typeof runtimeTypes, "InferenceSession" | "Tensor">;

/**
 * How likely it is that somebody speaks, by Silero VAD version 5.
 * @param model the bytes of its file
 * @param samples 16 kHz, mono
 * @returns one figure from 0 to 1 for each frame of `SPEECH_FRAME` samples
 */
export async function likelihoods(
  { InferenceSession, Tensor }: ModelRuntime,
  model: ArrayBuffer | Uint8Array,
  samples: Int16Array,
): Promise<Float32Array<ArrayBuffer>> {
  const session = await InferenceSession.create(new Uint8Array(model), { executionProviders: ["wasm"] });
  const rate = new Tensor("int64", BigInt64Array.of(BigInt(SPEECH_RATE)), []);
  let state = new Tensor("float32", new Float32Array(256), [2, 1, 128]);
  const speech = new Float32Array(Math.floor(samples.length / SPEECH_FRAME));
  for (let n = 0; n < speech.length; n++) {
    const input = new Float32Array(CONTEXT + SPEECH_FRAME);
    for (let i = 0; i < input.length; i++) input[i] = (samples[n * SPEECH_FRAME + i - CONTEXT] ?? 0) / 32_768;
    const seen = new Tensor("float32", input, [1, input.length]);
    const { output, stateN } = await session.run({ input: seen, state, sr: rate });
    state = stateN as typeof state;
    speech[n] = Number(output!.data[0]);
  }
  return speech;
}
