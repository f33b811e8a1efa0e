import { Mp4OutputFormat, NullTarget, Output, type AudioSource, type VideoSource } from "mediabunny";
import { SEGMENT_SECONDS } from "#core/media/tracks";
import { joinBytes } from "#core/media/split";

/** Is told the parts of one track in order: number 0 is the init segment, 1… the media segments. */
export type PartListener = (number: number, bytes: Uint8Array) => void;

/**
 * Writes one track as fragmented MP4 and hands out each fragment as a segment of its own (`moof` + `mdat`).
 */
export class Segmenter {
  #output: Output;
  #head: Uint8Array[] = [];
  #moof: Uint8Array | null = null;
  #count = 0;

  constructor(source: VideoSource | AudioSource, frameRate: number | null, onPart: PartListener) {
    const format = new Mp4OutputFormat({
      fastStart: "fragmented",
      // Video is cut at key frames, 2 s apart; sound has one in every packet and is cut when 2 s are full.
      minimumFragmentDuration: frameRate === null ? SEGMENT_SECONDS : SEGMENT_SECONDS / 2,
      onFtyp: (data) => void this.#head.push(data.slice()),
      onMoov: (data) => {
        this.#head.push(data.slice());
        onPart(0, joinBytes(this.#head));
      },
      onMoof: (data) => void (this.#moof = data.slice()),
      onMdat: (data) => onPart(++this.#count, joinBytes([this.#moof!, data])),
    });
    this.#output = new Output({ format, target: new NullTarget() });
    if (frameRate === null) this.#output.addAudioTrack(source as AudioSource);
    else this.#output.addVideoTrack(source as VideoSource, { frameRate });
  }

  start(): Promise<void> {
    return this.#output.start();
  }

  /** Writes what is left. @returns how many media segments there are */
  async finish(): Promise<number> {
    await this.#output.finalize();
    return this.#count;
  }

  async abort(): Promise<void> {
    if (this.#output.state === "started") await this.#output.cancel();
  }
}
