declare module "@jitsi/rnnoise-wasm/dist/rnnoise.js" {
  interface Rnnoise {
    HEAPF32: Float32Array<ArrayBuffer>;
    _malloc(bytes: number): number;
    _free(pointer: number): void;
    _rnnoise_create(model: 0): number;
    _rnnoise_destroy(state: number): void;
    /** 480 samples of 48 kHz, in the range of 16-bit integers; in and out may be one */
    _rnnoise_process_frame(state: number, out: number, into: number): number;
  }
  export default function create(options: { wasmBinary: Uint8Array }): Promise<Rnnoise>;
}
