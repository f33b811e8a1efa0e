import { randomUUID } from "node:crypto";
import { LRUCache } from "lru-cache";
import { readInit, type InitInfo } from "#core/media/init";
import { MediaError } from "#core/media/iso";
import { readSegment } from "#core/media/segment";
import { isPicture, kindOf, type TrackName } from "#core/media/tracks";
import { fromTicks, SECOND, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { closed, type Takes } from "../recordings/takes";
import { shortDigest, StorageFull, type Storage } from "../storage/storage";
import { Grouped } from "../grouped";
import { ADD_TRACK, PUT_SEGMENTS, TAKE_IS_OPEN, TRACK } from "./sql";

interface KnownTrack {
  id: string;
  recordingId: string;
  digest: Buffer;
  init: InitInfo;
  /** how long a take may last here; null for any length. As it was when the track was first met */
  longestUs: Micros | null;
}

/** `created`: it is new. `known`: the same bytes were here already, and all is well. */
export type PutResult = "created" | "known";

/** A row of a segment whose bytes are durable. */
interface StoredSegment {
  takeId: string;
  name: TrackName;
  trackId: string;
  number: number;
  start: number;
  duration: number;
  frames: number;
  size: number;
  digest: Buffer;
  key: string;
}
/** How many rows one statement carries at the most. */
const ROWS_AT_ONCE = 64;

/** Beyond the longest take: a recorder ends by itself, and what it had in hand may come a little later. */
const SPARE_US = 60 * SECOND;

/** A segment longer than this is no segment of a live recording. */
const LONGEST_US = 30 * SECOND;

/**
 * Takes in the init and media segments of takes. Everything is checked first, then the bytes are made durable, then the
 * row is committed, and only then is it acknowledged. Asking again with the same bytes is always fine.
 */
export class Ingest {
  #tracks = new LRUCache<string, KnownTrack>({ max: 20_000 });
  #rows = new Grouped<StoredSegment, boolean>(async (rows) => {
    const began = performance.now();
    const inserted = await this.#insert(rows);
    this.roundTook((performance.now() - began) / 1000);
    return inserted;
  }, ROWS_AT_ONCE);

  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
    private readonly takes: Takes,
    /** called when the first picture of a take of a recording is in */
    private readonly pictureArrived: (recordingId: string) => Promise<void>,
    /** told how long a round of rows took, in seconds */
    private readonly roundTook: (seconds: number) => void = () => undefined,
  ) {}

  async putInit(takeId: string, name: TrackName, bytes: Buffer, digest: Buffer): Promise<PutResult> {
    const kind = kindOf(name)!;
    const init = understood(() => readInit(bytes));
    if ((init.type === "video") !== isPicture(kind))
      throw new Problem(422, "wrong-kind", `A ${kind} track cannot be ${init.type}.`);
    const track = await this.#track(takeId, name);
    if (track) return sameOr(track.digest, digest, `The ${name} track of this take has another init segment already.`);
    await this.#requireOpen(takeId);

    const key = `takes/${takeId}/${name}/init-${shortDigest(digest)}.mp4`;
    await this.#store(key, bytes);
    const inserted = await this.db.rows(ADD_TRACK, [
      randomUUID(),
      takeId,
      name,
      kind,
      key,
      digest,
      JSON.stringify(init),
    ]);
    if (inserted.length > 0) return "created";
    const other = await this.#track(takeId, name);
    if (!other) throw closed();
    return sameOr(other.digest, digest, `The ${name} track of this take has another init segment already.`);
  }

  async putSegment(takeId: string, name: TrackName, number: number, bytes: Buffer, digest: Buffer): Promise<PutResult> {
    const kind = kindOf(name)!;
    const track = await this.#track(takeId, name);
    if (!track) throw new Problem(409, "no-init", `Send the init segment of the ${name} track first.`);
    const info = understood(() => readSegment(bytes, track.init));
    if (isPicture(kind) && !info.startsWithKeyFrame)
      throw new Problem(422, "no-key-frame", "A picture segment starts with a key frame.");
    const { timescale } = track.init;
    const start = fromTicks(info.start, timescale);
    const duration = fromTicks(info.start + info.duration, timescale) - start;
    if (duration <= 0 || duration > LONGEST_US)
      throw new Problem(422, "wrong-length", "A segment is longer than 0 and at most 30 seconds.");
    if (track.longestUs !== null && start > track.longestUs + SPARE_US)
      throw new Problem(422, "too-long", "This lies beyond the longest take that this workspace allows.");

    const key = `takes/${takeId}/${name}/${number}-${shortDigest(digest)}.m4s`;
    await this.#store(key, bytes);
    const inserted = await this.#rows.add({
      takeId,
      name,
      trackId: track.id,
      number,
      start,
      duration,
      frames: info.frames,
      size: bytes.length,
      digest,
      key,
    });
    if (!inserted) return this.#whyNot(track.id, number, digest, key);
    if (number === 1 && isPicture(kind)) await this.pictureArrived(track.recordingId);
    return "created";
  }

  /**
   * One statement decides on each row: open take, number within what was announced, and not there yet.
   * @returns which were taken
   */
  async #insert(rows: StoredSegment[]): Promise<boolean[]> {
    const column = <K extends keyof StoredSegment>(name: K) => rows.map((row) => row[name]);
    const inserted = await this.db.rows<{ key: string }>(PUT_SEGMENTS, [
      column("takeId"),
      column("name"),
      column("trackId"),
      column("number"),
      column("start"),
      column("duration"),
      column("frames"),
      column("size"),
      column("digest"),
      column("key"),
    ]);
    const taken = new Set(inserted.map((row) => row.key));
    const takeIds = [...new Set(rows.filter((row) => taken.has(row.key)).map((row) => row.takeId))];
    await this.takes.completeWhole(takeIds);
    takeIds.forEach(this.takes.grew);
    // Of the same bytes sent twice at once, one was taken and the other is known.
    return rows.map((row) => taken.delete(row.key));
  }

  /** The row was not taken: it is there already, another one is, or the take is closed. */
  async #whyNot(trackId: string, number: number, digest: Buffer, key: string): Promise<PutResult> {
    const row = await this.db.models.Segment.findOne({ where: { trackId, number } });
    if (row?.key !== key) await this.storage.remove(key);
    if (!row) throw await this.#closedOrBeyond(trackId, number);
    return sameOr(row.digest, digest, `Segment ${number} of this track is here already with other bytes.`);
  }

  /** The take is closed, or its end was told and this segment lies beyond it. */
  async #closedOrBeyond(trackId: string, number: number): Promise<Problem> {
    const [take] = await this.db.rows<{ open: boolean }>(TAKE_IS_OPEN, [trackId]);
    const message = `Segment ${number} lies beyond the end that was told for this track.`;
    return take?.open ? new Problem(409, "beyond-the-end", message) : closed();
  }

  async #track(takeId: string, name: TrackName): Promise<KnownTrack | null> {
    const cacheKey = `${takeId} ${name}`;
    const cached = this.#tracks.get(cacheKey);
    if (cached) return cached;
    const [track] = await this.db.rows<KnownTrack>(TRACK, [takeId, name]);
    if (!track) return null;
    this.#tracks.set(cacheKey, track);
    return track;
  }

  async #requireOpen(takeId: string): Promise<void> {
    const take = await this.db.models.Take.findByPk(takeId, { attributes: ["state"] });
    if (take?.state === "complete") throw closed();
  }

  async #store(key: string, bytes: Buffer): Promise<void> {
    try {
      await this.storage.put(key, bytes);
    } catch (cause) {
      if (cause instanceof StorageFull)
        throw new Problem(
          507,
          "storage-full",
          "The server's disk is full. Your recording is kept on this computer and will be sent later.",
        );
      throw cause;
    }
  }
}

function understood<T>(read: () => T): T {
  try {
    return read();
  } catch (cause) {
    if (cause instanceof MediaError)
      throw new Problem(422, "not-a-segment", `${cause.message[0]!.toUpperCase()}${cause.message.slice(1)}.`);
    throw cause;
  }
}

function sameOr(stored: Buffer, sent: Buffer, conflict: string): "known" {
  if (!stored.equals(sent)) throw new Problem(409, "other-bytes", conflict);
  return "known";
}
