import {
  AudioSampleSource,
  canEncodeAudio,
  EncodedAudioPacketSource,
  Mp4OutputFormat,
  NullTarget,
  Output,
  Quality,
  type AudioSample,
  type AudioSource,
  type EncodedPacket,
} from "mediabunny";
import type { SoundCodec } from "./codecs";
import { SOUND_BITS } from "#core/media/rates";

/** What turns the samples of one sound track into packets. */
export interface SoundEncoder {
  /** what the packets come out of, for a muxer */
  readonly packets: AudioSource;
  start(): Promise<void>;
  /** Takes samples in, in order from 0. They may be closed when it settles. */
  add(sample: AudioSample): Promise<void>;
  /** Encodes what is left. */
  finish(): Promise<void>;
  abort(): Promise<void>;
}

/** Bits a second of a voice, and of the sound of a surface. */
const SOUND_RATES = {
  aac: SOUND_BITS,
  opus: { microphone: 64_000, sound: 96_000 },
} as const;

/**
 * @param wanted AAC-LC comes with the application; Opus is what there is where that does not start. *Not the browser's
 * own AAC*: WebCodecs does not tell an encoder's delay, so its sound could not be put where it belongs.
 */
export async function openSoundEncoder(
  kind: "microphone" | "sound",
  wanted: SoundCodec,
  load = loadAac,
): Promise<SoundEncoder> {
  const codec = wanted === "aac" && (await load()) ? "aac" : "opus";
  const bitrate = SOUND_RATES[codec][kind];
  return codec === "aac" ? new AacEncoder(bitrate) : new OpusEncoder(bitrate);
}

let loading: Promise<boolean> | null = null;

/** Brings the AAC encoder, once, when something is to be recorded. @returns whether there is one */
function loadAac(): Promise<boolean> {
  loading ??= import("@mediabunny/aac-encoder").then(
    ({ registerAacEncoder }) => {
      registerAacEncoder();
      return canEncodeAudio("aac", { sampleRate: RATE, numberOfChannels: 1, bitrate: SOUND_RATES.aac.microphone });
    },
    () => false,
  );
  return loading;
}

class OpusEncoder implements SoundEncoder {
  readonly packets: AudioSampleSource;

  constructor(bitrate: number) {
    this.packets = new AudioSampleSource({ codec: "opus", quality: new Quality({ bitrate }) });
  }

  start = () => Promise.resolve();
  add = (sample: AudioSample) => this.packets.add(sample);
  finish = () => Promise.resolve();
  abort = () => Promise.resolve();
}

const RATE = 48_000;
/** Samples of a packet of AAC-LC; the encoder's delay is just as long, so its first packet holds nothing. */
const PACKET = 1024;

/**
 * Encodes into an output that leads nowhere, and passes the packets on without the first, each a packet earlier: so
 * that sound starts at 0 without an edit list, which not every player of fragments obeys.
 */
class AacEncoder implements SoundEncoder {
  readonly packets = new EncodedAudioPacketSource("aac");
  #samples: AudioSampleSource;
  #nowhere: Output;
  /** what is known of the track, which comes with the first packet */
  #meta: EncodedAudioChunkMetadata | undefined;
  #count = 0;
  #passedOn: Promise<void> = Promise.resolve();

  constructor(bitrate: number) {
    this.#samples = new AudioSampleSource({
      codec: "aac",
      quality: new Quality({ bitrate }),
      onEncodedPacket: (packet, meta) => this.#pass(packet, meta),
    });
    this.#nowhere = new Output({ format: new Mp4OutputFormat({ fastStart: "fragmented" }), target: new NullTarget() });
    this.#nowhere.addAudioTrack(this.#samples);
  }

  start(): Promise<void> {
    return this.#nowhere.start();
  }

  async add(sample: AudioSample): Promise<void> {
    await this.#samples.add(sample);
    await this.#passedOn;
  }

  async finish(): Promise<void> {
    await this.#nowhere.finalize();
    await this.#passedOn;
  }

  async abort(): Promise<void> {
    if (this.#nowhere.state === "started") await this.#nowhere.cancel();
  }

  #pass(packet: EncodedPacket, meta: EncodedAudioChunkMetadata | undefined): void {
    this.#count++;
    this.#meta ??= meta;
    if (this.#count === 1) return;
    const earlier = packet.clone({ timestamp: packet.timestamp - PACKET / RATE });
    const known = this.#count === 2 ? { ...this.#meta, ...meta } : meta;
    this.#passedOn = this.#passedOn.then(() => this.packets.add(earlier, known));
    // Whoever adds next, or finishes, is told.
    this.#passedOn.catch(() => undefined);
  }
}
