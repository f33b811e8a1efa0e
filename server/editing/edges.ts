import { LRUCache } from "lru-cache";
import type { InitInfo } from "#core/media/init";
import { hasSets, MOST_SETS, readParameterSets, setsInUse, withParameterSets } from "#core/media/parameter-sets";
import { partOf, readSamples, writeSegment, type Sample } from "#core/media/samples";
import { MediaError } from "#core/media/iso";
import { joinBytes } from "#core/media/split";
import type { TrackName } from "#core/media/tracks";
import type { Edge } from "#core/recipe/track-pieces";
import { fromTicks, toTicks, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { digestOf, shortDigest, type Storage } from "../storage/storage";
import { inFolder } from "../jobs/work-room";
import { encodePart } from "./encode";
import { silentPacket, silentSamples } from "./silence";
import { ADD_EDGE, CHANGE_INIT, CLEAR_EDGES, EDGES_MADE, NEXT_EDGE, SEGMENT_TO_CUT } from "./sql";

/** An edge of a track of a whole take. */
export interface WantedEdge extends Edge {
  trackId: string;
  takeId: string;
  name: TrackName;
  init: InitInfo;
}

/** One thread each: for so few pictures one is as fast as two, and two edges are made at once. */
const AT_ONCE = 2;

/**
 * Makes edges: parts of segments, as segments with numbers below 0. What is made is made once, and stays as long as a
 * revision plays it; others are cleared after a day.
 */
export class Edges {
  /** by their tracks */
  #silences = new LRUCache<string, Uint8Array>({ max: 1_000 });

  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
  ) {}

  /**
   * The numbers of these edges, in their order. Those that are missing are made; broken off, those that were made stay.
   * @param onProgress told how many of them are there, at first and after each
   * @throws {MediaError} for what cannot be cut
   */
  async numbers(
    wanted: readonly WantedEdge[],
    signal: AbortSignal,
    onProgress: (done: number) => Promise<unknown> = () => Promise.resolve(),
  ): Promise<number[]> {
    const numbers = await this.#made(wanted);
    let done = numbers.filter((n) => n !== null).length;
    await onProgress(done);
    const missing = [...wanted.keys()].filter((i) => numbers[i] === null);
    const work = async () => {
      for (let i = missing.shift(); i !== undefined; i = missing.shift()) {
        signal.throwIfAborted();
        numbers[i] = await this.#make(wanted[i]!, signal);
        await onProgress(++done);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, work));
    return numbers as number[];
  }

  /** How many of these edges are not there. */
  async missing(wanted: readonly WantedEdge[]): Promise<number> {
    return (await this.#made(wanted)).filter((number) => number === null).length;
  }

  async #made(wanted: readonly WantedEdge[]): Promise<(number | null)[]> {
    const column = <T>(pick: (edge: WantedEdge) => T) => wanted.map(pick);
    const rows = await this.db.rows<{ place: number; number: number }>(EDGES_MADE, [
      column((e) => e.trackId),
      column((e) => e.of),
      column((e) => e.from),
      column((e) => e.to),
      column((e) => e.silent ?? false),
    ]);
    const made = new Map(rows.map(({ place, number }) => [place - 1, number]));
    return wanted.map((_, i) => made.get(i) ?? null);
  }

  async #make(edge: WantedEdge, signal: AbortSignal): Promise<number> {
    const { trackId, takeId, name, of, from, to, init, silent = false } = edge;
    const samples = await this.#samplesOf(edge, signal);
    const bytes = Buffer.from(writeSegment({ start: from, samples }, init));
    const digest = digestOf(bytes);
    const [next] = await this.db.rows<{ number: number }>(NEXT_EDGE, []);
    const key = `takes/${takeId}/${name}/${next!.number}-${shortDigest(digest)}.m4s`;
    signal.throwIfAborted();
    await this.storage.put(key, bytes);
    const [begins, ends] = [fromTicks(from, init.timescale), fromTicks(to, init.timescale)];
    const times = [begins, ends - begins];
    const row = [...times, samples.length, bytes.length, digest, key];
    const added = await this.db.rows(ADD_EDGE, [trackId, of, from, to, next!.number, silent, ...row]);
    if (added.length > 0) return next!.number;
    // Another process was faster.
    await this.storage.remove(key);
    const [number] = await this.#made([edge]);
    if (number === null || number === undefined) throw new Error("an edge is made once, and stays");
    return number;
  }

  /** Sound, and what begins with its segment, is cut between samples; other pictures are encoded anew. */
  async #samplesOf(edge: WantedEdge, signal: AbortSignal): Promise<Sample[]> {
    const { trackId, of, from, to, init, silent } = edge;
    const row = await this.#find(trackId, of);
    const segment = await this.storage.get(row.key);
    const start = toTicks(row.startUs, init.timescale);
    if (init.type === "audio" || from === start) {
      const part = partOf(readSamples(segment, init), from, to);
      if (part.samples.length === 0) throw new MediaError("There is nothing in that part.");
      return silent ? silentSamples(part.samples, await this.#silenceOf(edge, row, segment, signal)) : part.samples;
    }
    return inFolder(async (dir) => {
      const { whole, own } = await this.#initOf(trackId, of);
      const encode = (sets: number) =>
        encodePart({ bytes: [whole, segment], init, start, from, to, sets }, dir, signal);
      // The number of edges that were made before, where there are any: their parameter sets are the same.
      const known = own ? Math.max(1, setsInUse(own)) : 0;
      const encoded = await encode(known);
      if (await this.#fits(edge, encoded.init, known)) return encoded.samples;
      // They were not, as after an upgrade of the encoder.
      const free = known + 1;
      const again = await encode(free);
      if (await this.#fits(edge, again.init, free)) return again.samples;
      throw new Error("the parameter sets of a track were changed meanwhile");
    });
  }

  /** A packet of silence of a track: made once, and the same for all of its packets. */
  async #silenceOf(
    { trackId, init }: WantedEdge,
    { initKey }: { initKey: string },
    segment: Buffer,
    signal: AbortSignal,
  ): Promise<Uint8Array> {
    const known = this.#silences.get(trackId);
    if (known) return known;
    const whole = joinBytes([await this.storage.get(initKey), segment]);
    const packet = await silentPacket(init, whole, readSamples(segment, init).samples[0]!.duration, signal);
    this.#silences.set(trackId, packet);
    return packet;
  }

  /** Has the track the parameter sets of an edge, now or already? Not where another encoder has used their number. */
  async #fits(edge: WantedEdge, made: Uint8Array, number: number): Promise<boolean> {
    if (number >= MOST_SETS) throw new MediaError("The track has too many parameter sets.");
    const theirs = readParameterSets(made);
    if (!theirs) return true;
    for (;;) {
      const { initKey, whole, own } = await this.#initOf(edge.trackId, edge.of);
      if (hasSets(own!, theirs)) return true;
      if (number <= setsInUse(own!)) return false;
      if (await this.#addSets(edge, initKey, withParameterSets(whole, theirs))) return true;
    }
  }

  async #initOf(trackId: string, of: number) {
    const { initKey } = await this.#find(trackId, of);
    const whole = await this.storage.get(initKey);
    return { initKey, whole, own: readParameterSets(whole) };
  }

  async #find(trackId: string, of: number): Promise<{ key: string; startUs: Micros; initKey: string }> {
    const [row] = await this.db.rows<{ key: string; startUs: Micros; initKey: string }>(SEGMENT_TO_CUT, [trackId, of]);
    if (!row) throw new MediaError("A segment of the take is not here any more.");
    return row;
  }

  /** @returns false where somebody else has changed it meanwhile */
  async #addSets({ trackId, takeId, name }: WantedEdge, initKey: string, init: Uint8Array): Promise<boolean> {
    const key = `takes/${takeId}/${name}/init-${shortDigest(digestOf(init))}.mp4`;
    await this.storage.put(key, Buffer.from(init));
    const changed = await this.db.rows(CHANGE_INIT, [trackId, initKey, key]);
    // What was there before is in answers that are under way; the nightly sweep takes it.
    return changed.length > 0;
  }
}

/** Forgets edges that nothing plays. @returns how many */
export async function clearEdges(db: Database, now = Date.now()): Promise<number> {
  return (await db.rows(CLEAR_EDGES, [new Date(now)])).length;
}
