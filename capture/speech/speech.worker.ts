import type * as runtimeTypes from "onnxruntime-web/wasm";
import { SPEECH_FRAME, SPEECH_RATE } from "#core/audio/pauses";
import type { SpeechReport, SpeechWanted } from "./messages";

/** Where the program and its model are served (`bin/lib/programs-plugin.ts`). */
const FOLDER = "/speech";
/** Samples before a frame that the model sees with it. */
const CONTEXT = 64;

type Runtime = typeof runtimeTypes;

/**
 * How likely it is that somebody speaks, by Silero VAD version 5: one figure for each frame. Its policy, sent with its
 * script, allows WebAssembly and reaches this server alone.
 */
self.onmessage = ({ data }: MessageEvent<SpeechWanted>) => {
  likelihoods(data.samples).then(
    (speech) => self.postMessage({ speech } satisfies SpeechReport, { transfer: [speech.buffer] }),
    // Not to be had, or not to be run here: whoever asked goes by how loud it is.
    () => self.postMessage({ speech: null } satisfies SpeechReport),
  );
};

async function likelihoods(samples: Int16Array): Promise<Float32Array<ArrayBuffer>> {
  const address = `${FOLDER}/ort.wasm.min.mjs`;
  const runtime = (await import(/* @vite-ignore */ address)) as Runtime;
  runtime.env.wasm.wasmPaths = `${FOLDER}/`;
  runtime.env.wasm.numThreads = 1;
  const answer = await fetch(`${FOLDER}/silero_vad_v5.onnx`);
  if (!answer.ok) throw new Error(`The model was answered with ${answer.status}.`);
  const session = await runtime.InferenceSession.create(await answer.arrayBuffer(), { executionProviders: ["wasm"] });
  const rate = new runtime.Tensor("int64", BigInt64Array.of(BigInt(SPEECH_RATE)), []);
  let state = new runtime.Tensor("float32", new Float32Array(256), [2, 1, 128]);
  const speech = new Float32Array(Math.floor(samples.length / SPEECH_FRAME));
  for (let n = 0; n < speech.length; n++) {
    const input = new Float32Array(CONTEXT + SPEECH_FRAME);
    for (let i = 0; i < input.length; i++) input[i] = (samples[n * SPEECH_FRAME + i - CONTEXT] ?? 0) / 32_768;
    const seen = new runtime.Tensor("float32", input, [1, input.length]);
    const { output, stateN } = await session.run({ input: seen, state, sr: rate });
    state = stateN as typeof state;
    speech[n] = Number(output!.data[0]);
  }
  return speech;
}
