import type * as runtimeTypes from "onnxruntime-web/wasm";
import { likelihoods } from "./likelihoods";
import type { SpeechReport, SpeechWanted } from "./messages";

/** Where the program and its model are served (`bin/lib/programs-plugin.ts`). */
const FOLDER = "/speech";

type Runtime = typeof runtimeTypes;

/** Its policy, sent with its script, allows WebAssembly and reaches this server alone. */
self.onmessage = ({ data }: MessageEvent<SpeechWanted>) => {
  listen(data.samples).then(
    (speech) => self.postMessage({ speech } satisfies SpeechReport, { transfer: [speech.buffer] }),
    // Not to be had, or not to be run here: whoever asked goes by how loud it is.
    () => self.postMessage({ speech: null } satisfies SpeechReport),
  );
};

async function listen(samples: Int16Array): Promise<Float32Array<ArrayBuffer>> {
  const address = `${FOLDER}/ort.wasm.min.mjs`;
  const runtime = (await import(/* @vite-ignore */ address)) as Runtime;
  runtime.env.wasm.wasmPaths = `${FOLDER}/`;
  runtime.env.wasm.numThreads = 1;
  const model = await fetch(`${FOLDER}/silero_vad_v5.onnx`);
  if (!model.ok) throw new Error(`The model was answered with ${model.status}.`);
  return likelihoods(runtime, await model.arrayBuffer(), samples);
}
