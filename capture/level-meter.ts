import { FLOOR, PeakHold, peakLevel } from "#core/audio/level";

export interface Level {
  /** of this moment, dBFS */
  peak: number;
  /** held for a while, dBFS */
  held: number;
}

/** Listens to a microphone without changing it. */
export class LevelMeter {
  #context = new AudioContext();
  #analyser = this.#context.createAnalyser();
  #hold = new PeakHold();
  #samples = new Float32Array(1024);

  constructor(track: MediaStreamTrack) {
    this.#analyser.fftSize = 1024;
    this.#context.createMediaStreamSource(new MediaStream([track])).connect(this.#analyser);
    // A page that was not clicked yet may have its context suspended; it reads as silent until then.
    void this.#context.resume();
  }

  read(now: number): Level {
    if (this.#context.state !== "running") return { peak: FLOOR, held: FLOOR };
    this.#analyser.getFloatTimeDomainData(this.#samples);
    const peak = peakLevel(this.#samples);
    return { peak, held: this.#hold.next(peak, now) };
  }

  close(): void {
    void this.#context.close();
  }
}
