import { FramedSound } from "./frames";

/** The frame of RNNoise: 10 ms at 48 kHz. It gives a frame back with the next one. */
const FRAME = 480;
/** It takes the range of 16-bit integers. */
const RANGE = 32_768;

/** A voice without the noise around it. */
export interface Suppression {
  sound: FramedSound;
  /** processor time that it has taken, in ms */
  spentMs(): number;
  close(): void;
}

/**
 * Opens RNNoise (a recurrent network for speech, Valin 2018). One channel of 48 kHz.
 * @param program its WebAssembly, of which the model is a part
 * @param now a clock in ms
 */
export async function openSuppression(program: ArrayBuffer, now: () => number): Promise<Suppression> {
  // Only whoever wants it loads it.
  const { default: create } = await import("@jitsi/rnnoise-wasm/dist/rnnoise.js");
  const rnnoise = await create({ wasmBinary: new Uint8Array(program) });
  const state = rnnoise._rnnoise_create(0);
  const pointer = rnnoise._malloc(FRAME * Float32Array.BYTES_PER_ELEMENT);
  const at = pointer / Float32Array.BYTES_PER_ELEMENT;
  let spent = 0;
  const work = (frame: Float32Array<ArrayBuffer>) => {
    const begun = now();
    // The memory may have been given another place since.
    let heap = rnnoise.HEAPF32;
    for (let i = 0; i < FRAME; i++) heap[at + i] = frame[i]! * RANGE;
    rnnoise._rnnoise_process_frame(state, pointer, pointer);
    heap = rnnoise.HEAPF32;
    for (let i = 0; i < FRAME; i++) frame[i] = heap[at + i]! / RANGE;
    spent += now() - begun;
  };
  return {
    sound: new FramedSound(work, FRAME, FRAME),
    spentMs: () => spent,
    close: () => {
      rnnoise._free(pointer);
      rnnoise._rnnoise_destroy(state);
    },
  };
}
