import { correct } from "#core/sync/correction";
import { Watchable } from "#core/state/watchable";
import { fromSeconds, toSeconds, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import { acrossHole, TROUBLE, type Layer } from "./layer";
import { openLayer, type OpenLayer } from "./open-layer";
import { IDLE, type PlayerState } from "./player-state";

export const RATES = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.5] as const;

export interface Source {
  media: HTMLMediaElement;
  url: string;
  /** where it has something; everywhere where that is not told */
  spans?: readonly Range[];
}

const STEP_MS = 50;
/** Layers end a little apart; one that is this close to its end is not waited for. Seconds. */
const TAIL = 0.25;
/** A layer that waits for its turn stands so near to where that begins. Seconds. */
const AT_PLACE = 0.01;
/** Its last moments are not waited for: a track ends a little before what it is a part of. */
const SPAN_TAIL: Micros = 100_000;
/** A growing layer that ends so much before another will not grow any more. Seconds. */
const LOST = 8;

/**
 * Plays layers as one. The first of them that has not come to its end is the pacer: its clock counts, and the others
 * are brought into step by small changes of their speed. When one layer has to wait, the others wait with it. Knows
 * nothing of React.
 */
export class Player extends Watchable<PlayerState> {
  #layers: Layer[] = [];
  /** of those that are not there all the time: when they are */
  #spans = new Map<Layer, readonly Range[]>();
  #timer: ReturnType<typeof setInterval>;
  /** layers stand still until all have the moment that was sought */
  #aligning = true;
  /** how long something stands before the beginning, and until when it stands; ms */
  #opens = 0;
  #opensUntil = 0;

  /** the address of the first layer's playlist */
  readonly url: string;
  readonly #urls: readonly string[];

  /** @param sources in the order in which they give the pace; one at the least */
  constructor(sources: Source[], start: Micros, open: OpenLayer = openLayer) {
    super({ ...IDLE, growing: true });
    this.url = sources[0]!.url;
    this.#urls = sources.map(({ url }) => url);
    const events = { onChange: () => this.#look(), onFailed: (problem: string) => this.#failed(problem) };
    for (const { media, url, spans } of sources) {
      const layer = open(media, url, toSeconds(placeIn(spans, start)), events);
      this.#layers.push(layer);
      if (spans) this.#spans.set(layer, spans);
    }
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

  /** Something stands for so long, once it is to play from its beginning. Nothing of the recording goes by. */
  opensWith(ms: number): void {
    this.#opens = ms;
  }

  /** Other spans of layers, by the addresses of these: what is withheld is known when a take is whole. */
  setSpans(sources: readonly Pick<Source, "url" | "spans">[]): void {
    this.#layers.forEach((layer, i) => {
      const spans = sources.find(({ url }) => url === this.#urls[i])?.spans;
      if (spans) this.#spans.set(layer, spans);
      else this.#spans.delete(layer);
    });
  }

  play(): void {
    if (this.snapshot().ended) this.seek(0);
    const opening = this.#opens > 0 && this.snapshot().time === 0;
    if (opening) this.#opensUntil = performance.now() + this.#opens;
    this.set({ playing: true, opening, started: true, ended: false });
    this.#step();
  }

  /** What stands before the beginning is not waited for. */
  skipOpening(): void {
    this.#opensUntil = 0;
    this.#step();
  }

  pause(): void {
    this.set({ playing: false, opening: false, waiting: false });
    this.#step();
  }

  toggle(): void {
    if (this.snapshot().playing) this.pause();
    else this.play();
  }

  seek(to: Micros): void {
    const time = Math.max(0, Math.min(to, this.snapshot().duration || to));
    this.#aligning = true;
    for (const layer of this.#layers) {
      layer.media.pause();
      layer.media.currentTime = Math.min(toSeconds(placeIn(this.#spans.get(layer), time)), layer.end || Infinity);
    }
    this.set({ time, opening: false, ended: false, seeks: this.snapshot().seeks + 1 });
  }

  setRate(rate: number): void {
    this.set({ rate: Math.max(RATES[0], Math.min(RATES.at(-1)!, rate)) });
    for (const layer of this.#layers) layer.media.playbackRate = this.snapshot().rate;
  }

  setVolume(volume: number): void {
    this.set({ volume: Math.max(0, Math.min(1, volume)), muted: false });
    this.#applySound();
  }

  setMuted(muted: boolean): void {
    this.set({ muted });
    this.#applySound();
  }

  /** How far each layer is from the pacer, in ms; for tests and benches. */
  drifts(): number[] {
    const { pacer, followers } = this.#going();
    return followers.map((f) => (f.time - pacer.time) * 1000);
  }

  destroy(): void {
    clearInterval(this.#timer);
    for (const layer of this.#layers) layer.destroy();
    this.forgetListeners();
  }

  /** One look at the layers: who plays, who waits, who is out of step. */
  #step(): void {
    if (!this.snapshot().playing || this.snapshot().ended) {
      for (const layer of this.#layers) layer.media.pause();
      return;
    }
    if (this.snapshot().opening) {
      if (performance.now() < this.#opensUntil) return;
      this.set({ opening: false });
    }
    if (this.#skip()) return;
    const { pacer, followers } = this.#going();
    const going = [pacer, ...followers];
    this.#rest(going);
    if (going.some((layer) => !layer.ready && !layer.media.ended)) {
      for (const layer of this.#layers) layer.media.pause();
      const holes = going.map((layer) => (layer.ready ? null : acrossHole(layer.media))).filter((to) => to !== null);
      if (holes.length > 0) return this.seek(fromSeconds(Math.max(...holes) + 0.001));
      if (!this.snapshot().waiting) this.set({ waiting: true });
      this.#aligning = true;
      return;
    }
    if (this.#aligning) {
      this.#aligning = false;
      for (const f of followers) if (Math.abs(f.time - pacer.time) > 0.02) f.media.currentTime = pacer.time;
      if (followers.some((f) => f.media.seeking)) {
        this.#aligning = true;
        return;
      }
    }
    const { rate } = this.snapshot();
    const todo = new Map(followers.map((f) => [f, correct(f.time - pacer.time, rate)]));
    for (const layer of going)
      if (layer.media.paused && !layer.media.ended && todo.get(layer)?.kind !== "wait")
        void layer.media.play().catch((error: Error) => this.#refused(error));
    if (this.snapshot().waiting || this.snapshot().problem) this.set({ waiting: false, problem: null });
    // Who gives the pace may have followed before.
    setSpeed(pacer, rate);
    for (const [layer, what] of todo) {
      if (what.kind === "align") return this.seek(fromSeconds(pacer.time));
      if (what.kind === "wait") layer.media.pause();
      else setSpeed(layer, what.rate);
    }
  }

  /**
   * Who gives the pace, and who follows. One that was lost, or is at its end, does neither: it plays its last moments
   * by itself.
   */
  #going(): { pacer: Layer; followers: Layer[] } {
    const last = this.#last();
    const at = toSeconds(this.snapshot().time);
    const [pacer = last, ...followers] = this.#layers.filter((layer) => {
      const { media, end, growing } = layer;
      if (media.error !== null || layer.lost) return false;
      if (!isThere(this.#spans.get(layer), this.snapshot().time)) return false;
      if (end === 0) return true;
      // Of a take that still grows, a layer far behind the others gets no more: its camera was lost. Should more come
      // after all, it is there again.
      return (growing && last.end - end < LOST) || at < end - TAIL;
    });
    return { pacer, followers };
  }

  /** Where no layer has anything, and a later moment has: goes on there. @returns whether it did */
  #skip(): boolean {
    const { time } = this.snapshot();
    if (this.#spans.size < this.#layers.length) return false;
    const all = [...this.#spans.values()];
    if (all.some((spans) => isThere(spans, time))) return false;
    const next = Math.min(...all.flatMap((spans) => spans.map(({ from }) => from)).filter((from) => from > time));
    if (next === Infinity) return false;
    this.seek(next);
    return true;
  }

  /** Layers that are not there now stand still where they are there next. */
  #rest(going: readonly Layer[]): void {
    for (const [layer, spans] of this.#spans) {
      if (going.includes(layer)) continue;
      layer.media.pause();
      const next = spans.find(({ from }) => from > this.snapshot().time);
      if (next && Math.abs(layer.time - toSeconds(next.from)) > AT_PLACE)
        layer.media.currentTime = toSeconds(next.from);
    }
  }

  /** The layer that ends last. */
  #last(): Layer {
    const there = this.#layers.filter((layer) => !layer.lost);
    return (there.length > 0 ? there : this.#layers).reduce((last, layer) =>
      this.#endOf(layer) > this.#endOf(last) ? layer : last,
    );
  }

  /** Where a layer has its last moment, in seconds: what is withheld of it after that never comes. */
  #endOf(layer: Layer): number {
    const spans = this.#spans.get(layer);
    return spans ? Math.min(layer.end, toSeconds(spans.at(-1)?.to ?? 0)) : layer.end;
  }

  #look(): void {
    // A layer that is opened may have something to say before the others are.
    if (this.#layers.length === 0) return;
    const last = this.#last();
    const { pacer } = this.#going();
    const { buffered, seeking, currentTime } = pacer.media;
    const growing = this.#layers.some((layer) => layer.growing && layer.media.error === null && !layer.lost);
    const ended = last.media.ended && !growing;
    this.set({
      time: this.#aligning && seeking ? this.snapshot().time : fromSeconds(currentTime),
      duration: fromSeconds(this.#endOf(last)),
      buffered: fromSeconds(buffered.length > 0 ? buffered.end(buffered.length - 1) : 0),
      growing,
      ended,
      ...(ended && { playing: false, waiting: false }),
    });
  }

  /** One layer cannot go on. Where it never can, the others do. */
  #failed(problem: string): void {
    const lost = this.#layers.filter((layer) => layer.lost);
    if (lost.length === 0 || lost.length === this.#layers.length) return this.set({ problem });
    const isSound = lost.some(({ media }) => !(media instanceof HTMLVideoElement));
    this.set({ without: isSound ? TROUBLE.sound : TROUBLE.picture });
    this.#step();
  }

  #applySound(): void {
    const { volume, muted } = this.snapshot();
    // A picture that follows has no sound of its own.
    for (const layer of this.#layers) {
      layer.media.volume = volume;
      layer.media.muted = muted || (layer !== this.#layers[0] && layer.media instanceof HTMLVideoElement);
    }
  }

  #refused(error: Error): void {
    if (error.name === "NotAllowedError")
      this.set({ playing: false, problem: "The browser wants a press before it plays sound. Press Play." });
  }
}

/** Has a layer with these spans something at a moment? */
const isThere = (spans: readonly Range[] | undefined, time: Micros): boolean =>
  !spans || spans.some(({ from, to }) => time >= from && time < to - SPAN_TAIL);

/** Where a layer with these spans stands at a moment: there, or where it is there next. */
const placeIn = (spans: readonly Range[] | undefined, time: Micros): Micros =>
  isThere(spans, time) ? time : (spans?.find(({ from }) => from > time)?.from ?? time);

function setSpeed({ media }: Layer, rate: number): void {
  if (Math.abs(media.playbackRate - rate) > 0.001) media.playbackRate = rate;
}
