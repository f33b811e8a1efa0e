import { Hearing, type Heard } from "#core/audio/hearing";
import type { SoundFigures } from "#core/check/sound";
import soundWorklet from "./check/sound.worklet.ts?worker&url";
import { FLOOR, PeakHold, toDecibels } from "#core/audio/level";

export interface Level {
  /** of this moment, dBFS */
  peak: number;
  /** held for a while, dBFS */
  held: number;
}

const SILENT: Level = { peak: FLOOR, held: FLOOR };

/** Listens to a microphone as it is recorded, without changing it. */
export class LevelMeter {
  #context = new AudioContext();
  #analyser = this.#context.createAnalyser();
  #hold = new PeakHold();
  #hearing = new Hearing();
  #samples = new Float32Array(2048);
  #source: AudioNode;

  /** @param gain what it is recorded at, as a factor of amplitude */
  constructor(
    private readonly track: MediaStreamTrack,
    gain = 1,
  ) {
    this.#analyser.fftSize = this.#samples.length;
    this.#source = new GainNode(this.#context, { gain });
    this.#context.createMediaStreamSource(new MediaStream([track])).connect(this.#source);
    this.#source.connect(this.#analyser);
    // A page that was not clicked yet may have its context suspended; it reads as silent until then.
    void this.#context.resume();
  }

  read(now: number): Level {
    if (this.#context.state !== "running") return SILENT;
    const peak = toDecibels(this.#amplitude());
    return { peak, held: this.#hold.next(peak, now) };
  }

  /** @returns null while this page may not listen yet: nothing is known then */
  hear(now: number): Heard | null {
    if (this.#context.state !== "running") return null;
    return this.#hearing.next(this.#amplitude(), this.track.muted, now);
  }

  /**
   * Measures more closely, on the sound's own thread.
   * @param onFailed this browser cannot do that
   * @returns ends it
   */
  measure(onFigures: (figures: SoundFigures) => void, onFailed: () => void): () => void {
    let node: AudioWorkletNode | null = null;
    let ended = false;
    const begin = () => {
      if (ended || this.#context.state === "closed") return;
      node = new AudioWorkletNode(this.#context, "clear-nod-sound-check", {
        numberOfOutputs: 0,
        channelCount: 1,
        channelCountMode: "explicit",
      });
      node.port.onmessage = ({ data }: MessageEvent<SoundFigures>) => onFigures(data);
      this.#source.connect(node);
    };
    this.#context.audioWorklet
      .addModule(soundWorklet)
      .then(begin)
      .catch(() => ended || onFailed());
    return () => {
      ended = true;
      if (!node) return;
      node.port.close();
      this.#source.disconnect(node);
    };
  }

  close(): void {
    void this.#context.close();
  }

  #amplitude(): number {
    this.#analyser.getFloatTimeDomainData(this.#samples);
    let peak = 0;
    for (const sample of this.#samples) peak = Math.max(peak, Math.abs(sample));
    return peak;
  }
}
