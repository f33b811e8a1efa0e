import { Mp4OutputFormat, NullTarget, Output, type AudioSource, type VideoSource } from "mediabunny";
import { SEGMENT_SECONDS } from "#core/media/tracks";
import { readInit, type InitInfo } from "#core/media/init";
import { readSegment } from "#core/media/segment";
import { joinBytes } from "#core/media/split";
import { fromSeconds, type Micros } from "#core/time/micros";

/**
 * Is told the parts of one track in order: number 0 is the init segment, 1… the media segments. The bytes are its own;
 * `end` is the source time up to which the track is in parts.
 */
export type PartListener = (number: number, bytes: Uint8Array<ArrayBuffer>, end: Micros) => void;

/**
 * Writes one track as fragmented MP4 and hands out each fragment as a segment of its own (`moof` + `mdat`).
 */
export class Segmenter {
  #output: Output;
  #head: Uint8Array[] = [];
  #init: InitInfo | null = null;
  #moof: Uint8Array | null = null;
  #count = 0;

  constructor(source: VideoSource | AudioSource, frameRate: number | null, onPart: PartListener) {
    const format = new Mp4OutputFormat({
      fastStart: "fragmented",
      // Pictures are cut at key frames; sound, where every packet is one, when a segment is full.
      minimumFragmentDuration: frameRate === null ? SEGMENT_SECONDS : SEGMENT_SECONDS / 2,
      onFtyp: (data) => void this.#head.push(data.slice()),
      onMoov: (data) => {
        this.#head.push(data.slice());
        const init = joinBytes(this.#head);
        this.#init = readInit(init);
        onPart(0, init, 0);
      },
      onMoof: (data) => void (this.#moof = data.slice()),
      onMdat: (data) => {
        const segment = joinBytes([this.#moof!, data]);
        const { start, duration } = readSegment(segment, this.#init!);
        onPart(++this.#count, segment, fromSeconds((start + duration) / this.#init!.timescale));
      },
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
