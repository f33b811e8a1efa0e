import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import type { Plugin } from "vite";

interface Program {
  /** the folder of a package, below `node_modules` */
  from: string;
  /** where its files are served */
  to: string;
  /** what every browser that can record runs; builds for others, and other models, stay behind */
  wanted: RegExp;
}

const VISION =
  /(?:_simd_wasm_bin\.(?:js|wasm|data)|(?:segmentation|detection)\.js|_short.*|segmentation.*\.(?:tflite|binarypb))$/;

/** Programs that find things in pictures and in sound, with their models. */
const PROGRAMS: Program[] = [
  { from: "@mediapipe/selfie_segmentation", to: "vision/selfie_segmentation", wanted: VISION },
  { from: "@mediapipe/face_detection", to: "vision/face_detection", wanted: VISION },
  { from: "onnxruntime-web/dist", to: "speech", wanted: /^ort(?:\.wasm\.min\.mjs|-wasm-simd-threaded\.(?:mjs|wasm))$/ },
  { from: "@ricky0123/vad-web/dist", to: "speech", wanted: /^silero_vad_v5\.onnx$/ },
];

/** Copies them beside the built files: they load their parts by name. */
export function programsPlugin(): Plugin {
  return {
    name: "programs",
    applyToEnvironment: (environment) => environment.name === "client",
    async generateBundle() {
      for (const { from, to, wanted } of PROGRAMS) {
        const folder = join("node_modules", from);
        for (const file of await readdir(folder))
          if (wanted.test(file))
            this.emitFile({ type: "asset", fileName: `${to}/${file}`, source: await readFile(join(folder, file)) });
      }
    },
  };
}
