import { correct } from "#core/sync/correction";
import { Watchable } from "#core/state/watchable";
import { fromSeconds, toSeconds, type Micros } from "#core/time/micros";
import type { Layer } from "./layer";
import { openLayer, type OpenLayer } from "./open-layer";
import { IDLE, type PlayerState } from "./player-state";

export const RATES = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.5] as const;

export interface Source {
  media: HTMLMediaElement;
  url: string;
}

const STEP_MS = 50;
/** Layers end a little apart; a follower that is this close to its end is not waited for. Seconds. */
const TAIL = 0.25;
/** A growing follower that ends so much before the lead will not grow any more. Seconds. */
const LOST = 8;

/**
 * Plays a lead layer and its followers as one. The lead's clock counts; followers are brought into step by small
 * changes of their speed. When one layer has to wait, the others wait with it. Knows nothing of React.
 */
export class Player extends Watchable<PlayerState> {
  #lead: Layer;
  #followers: Layer[];
  #timer: ReturnType<typeof setInterval>;
  /** layers stand still until all have the moment that was sought */
  #aligning = true;

  /** the address of the lead's playlist */
  readonly url: string;

  constructor(lead: Source, followers: Source[], start: Micros, open: OpenLayer = openLayer) {
    super({ ...IDLE, growing: true });
    this.url = lead.url;
    const events = { onChange: () => this.#look(), onFailed: (problem: string) => this.set({ problem }) };
    this.#lead = open(lead.media, lead.url, toSeconds(start), events);
    this.#followers = followers.map((f) => open(f.media, f.url, toSeconds(start), events));
    this.#timer = setInterval(() => this.#step(), STEP_MS);
    this.set({ time: start });
  }

  /** Goes on as another player did. */
  takeOver({ playing, rate, volume, muted }: PlayerState): void {
    this.setRate(rate);
    this.setVolume(volume);
    this.setMuted(muted);
    this.set({ started: true });
    if (playing) this.play();
  }

  play(): void {
    if (this.snapshot().ended) this.seek(0);
    this.set({ playing: true, started: true, ended: false });
    this.#step();
  }

  pause(): void {
    this.set({ playing: false, waiting: false });
    this.#step();
  }

  toggle(): void {
    if (this.snapshot().playing) this.pause();
    else this.play();
  }

  seek(to: Micros): void {
    const time = Math.max(0, Math.min(to, this.snapshot().duration || to));
    this.#aligning = true;
    for (const layer of this.#all()) {
      layer.media.pause();
      layer.media.currentTime = Math.min(toSeconds(time), layer.end || Infinity);
    }
    this.set({ time, ended: false, seeks: this.snapshot().seeks + 1 });
  }

  setRate(rate: number): void {
    this.set({ rate: Math.max(RATES[0], Math.min(RATES.at(-1)!, rate)) });
    for (const layer of this.#all()) layer.media.playbackRate = this.snapshot().rate;
  }

  setVolume(volume: number): void {
    this.set({ volume: Math.max(0, Math.min(1, volume)), muted: false });
    this.#applySound();
  }

  setMuted(muted: boolean): void {
    this.set({ muted });
    this.#applySound();
  }

  /** How far each follower is from the lead, in ms; for tests and benches. */
  drifts(): number[] {
    return this.#followers.filter((f) => this.#wanted(f)).map((f) => (f.time - this.#lead.time) * 1000);
  }

  destroy(): void {
    clearInterval(this.#timer);
    for (const layer of this.#all()) layer.destroy();
    this.forgetListeners();
  }

  /** One look at the layers: who plays, who waits, who is out of step. */
  #step(): void {
    const lead = this.#lead;
    const wanted = this.#followers.filter((f) => this.#wanted(f));
    for (const f of this.#followers) if (!wanted.includes(f)) f.media.pause();
    if (!this.snapshot().playing || this.snapshot().ended) {
      for (const layer of this.#all()) layer.media.pause();
      return;
    }
    const late = [lead, ...wanted].filter((layer) => !layer.ready && !layer.media.ended);
    if (late.length > 0) {
      // All wait for the late one; the late one itself plays on, or its data would never start it.
      for (const layer of [lead, ...wanted]) layer.media.pause();
      if (!this.snapshot().waiting) this.set({ waiting: true });
      this.#aligning = true;
      return;
    }
    if (this.#aligning) {
      this.#aligning = false;
      for (const f of wanted) if (Math.abs(f.time - lead.time) > 0.02) f.media.currentTime = lead.time;
      if (wanted.some((f) => f.media.seeking)) {
        this.#aligning = true;
        return;
      }
    }
    for (const layer of [lead, ...wanted])
      if (layer.media.paused && !layer.media.ended && !this.#farAhead(layer))
        void layer.media.play().catch((error: Error) => this.#refused(error));
    if (this.snapshot().waiting || this.snapshot().problem) this.set({ waiting: false, problem: null });
    for (const f of wanted) {
      const todo = correct(f.time - lead.time, this.snapshot().rate);
      if (todo.kind === "align") this.seek(fromSeconds(lead.time));
      else if (todo.kind === "wait") f.media.pause();
      else if (Math.abs(f.media.playbackRate - todo.rate) > 0.001) f.media.playbackRate = todo.rate;
    }
  }

  #farAhead(layer: Layer): boolean {
    return layer !== this.#lead && correct(layer.time - this.#lead.time, this.snapshot().rate).kind === "wait";
  }

  /** A follower that has come to its end, or was lost while recording, is not waited for. */
  #wanted(f: Layer): boolean {
    if (f.media.error !== null) return false;
    if (f.end === 0) return true;
    // Of a take that still grows, a layer far behind the lead gets no more: its camera was lost. Should more come after
    // all, it is there again.
    const more = f.growing && this.#lead.end - f.end < LOST;
    return more || this.#lead.time < f.end - TAIL;
  }

  #look(): void {
    const { media } = this.#lead;
    const buffered = media.buffered.length > 0 ? media.buffered.end(media.buffered.length - 1) : 0;
    const ended = media.ended && !this.#lead.growing;
    this.set({
      time: this.#aligning && media.seeking ? this.snapshot().time : fromSeconds(media.currentTime),
      duration: fromSeconds(this.#lead.end),
      buffered: fromSeconds(buffered),
      growing: this.#lead.growing,
      ended,
      ...(ended && { playing: false, waiting: false }),
    });
  }

  #applySound(): void {
    const { volume, muted } = this.snapshot();
    // The camera layer has no sound of its own; a sound layer is as loud as the lead.
    for (const layer of this.#all()) {
      layer.media.volume = volume;
      layer.media.muted = muted || (layer !== this.#lead && layer.media instanceof HTMLVideoElement);
    }
  }

  #refused(error: Error): void {
    if (error.name === "NotAllowedError")
      this.set({ playing: false, problem: "The browser wants a press before it plays sound. Press Play." });
  }

  #all(): Layer[] {
    return [this.#lead, ...this.#followers];
  }
}
