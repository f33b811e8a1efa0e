import { SoundCheck } from "#core/check/sound";

// What an audio worklet gives (Web Audio API, 1.32), as far as it is used here: no library describes it.
declare const sampleRate: number;
declare const registerProcessor: (name: string, processor: new () => AudioWorkletProcessor) => void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

const TOLD_SECONDS = 0.3;

/** Measures a microphone on the sound's own thread, and tells a few times a second. */
class SoundCheckProcessor extends AudioWorkletProcessor {
  #check = new SoundCheck(sampleRate);
  #untold = 0;

  process([input]: Float32Array[][]): boolean {
    const samples = input?.[0];
    if (!samples) return true;
    this.#check.push(samples);
    this.#untold += samples.length / sampleRate;
    if (this.#untold >= TOLD_SECONDS) {
      this.#untold = 0;
      this.port.postMessage(this.#check.figures);
    }
    return true;
  }
}

registerProcessor("clear-nod-sound-check", SoundCheckProcessor);
