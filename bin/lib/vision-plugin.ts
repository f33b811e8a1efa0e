import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import type { Plugin } from "vite";

/** Programs that find things in pictures, with their models, and where they are served. */
const PROGRAMS = ["selfie_segmentation", "face_detection"];
/** What every browser that can record runs: their builds for others, and models for other distances, stay behind. */
const WANTED =
  /(?:_simd_wasm_bin\.(?:js|wasm|data)|(?:segmentation|detection)\.js|_short.*|segmentation.*\.(?:tflite|binarypb))$/;

/** Copies them beside the built files: they load their parts by name. */
export function visionPlugin(): Plugin {
  return {
    name: "vision",
    applyToEnvironment: (environment) => environment.name === "client",
    async generateBundle() {
      for (const program of PROGRAMS) {
        const folder = join("node_modules/@mediapipe", program);
        for (const file of await readdir(folder))
          if (WANTED.test(file))
            this.emitFile({
              type: "asset",
              fileName: `vision/${program}/${file}`,
              source: await readFile(join(folder, file)),
            });
      }
    },
  };
}
