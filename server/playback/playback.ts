import { LRUCache } from "lru-cache";
import type { InitInfo } from "#core/media/init";
import type { LayoutEvent } from "#core/layout/layout";
import { TRACK_KINDS, type TakeSource, type TrackKind } from "#core/media/tracks";
import { writeMainPlaylist, writeMediaPlaylist, type ListedTrack } from "#core/playlist/hls";
import { parseRecipe } from "#core/recipe/recipe";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Storage } from "../storage/storage";

/** One layer of the player: a main playlist of its own. */
export interface Layer {
  role: "main" | "camera" | "sound";
  url: string;
}

/** What the watch page needs to play. */
export interface Playable {
  revision: number;
  source: TakeSource;
  /** recording: grows; uploading: the recorder has stopped, the rest is on its way; complete: all here */
  state: "recording" | "uploading" | "complete";
  paused: boolean;
  layers: Layer[];
  /** what a player asks for first: playlists, init segments, first segments */
  preload: string[];
  layout: LayoutEvent[];
  durationUs: number;
  /** shape of the main picture, for the page to keep its place; null for sound alone */
  frame: { width: number; height: number } | null;
}

interface KnownTrack {
  id: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
}
interface KnownSegment {
  key: string;
  digest: Buffer;
}
/** The parts of a published revision that never change. */
interface KnownRevision {
  takeId: string;
  tracks: Map<TrackKind, KnownTrack>;
}

/** The files of a revision by what they are called in its playlists. */
export type MediaFile = { key: string; etag: string; type: string };

const KNOWN_SECONDS = 2;

/** Playlists written from rows, and the segments they name. Who may have them is decided before. */
export class Playback {
  #revisions = new LRUCache<string, KnownRevision>({ max: 5_000, ttl: KNOWN_SECONDS * 1000 });
  #segments = new LRUCache<string, KnownSegment>({ max: 200_000 });
  /** Segments asked for over and over, as when a link has just been sent round. */
  #bytes = new LRUCache<string, Buffer>({
    maxSize: 96 * 1024 * 1024,
    maxEntrySize: 4 * 1024 * 1024,
    sizeCalculation: (b) => b.length || 1,
  });
  #reading = new Map<string, Promise<Buffer>>();

  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
  ) {}

  /** What can be played of the newest revision; null while nothing has arrived yet. */
  async playable(recordingId: string, token: string): Promise<Playable | null> {
    const [row] = await this.db.rows<{
      number: number;
      takeId: string;
      source: TakeSource;
      state: Playable["state"];
      paused: boolean;
      layout: LayoutEvent[];
    }>(
      `select v.number, t.id as "takeId", t.source, t.state, t.paused, t.layout
         from revisions v join takes t on t.id = (v.recipe -> 'kept' -> 0 ->> 'take')::uuid
        where v.recording_id = $1 order by v.number desc limit 1`,
      [recordingId],
    );
    if (!row) return null;
    const tracks = await this.db.rows<{ kind: TrackKind; init: InitInfo; endUs: string }>(
      `select k.kind, k.init, s.end_us as "endUs" from tracks k
         join lateral (select start_us + duration_us as end_us from segments where track_id = k.id order by number desc limit 1) s on true
        where k.take_id = $1`,
      [row.takeId],
    );
    const has = new Map(tracks.map((t) => [t.kind, t]));
    const lead = leadOf(row.source, row.state === "complete", has);
    if (!lead) return null;
    const base = `/w/${token}/r${row.number}`;
    const layers: Layer[] = [{ role: "main", url: `${base}/main.m3u8` }];
    if (lead.kind === "screen" && has.has("camera")) layers.push({ role: "camera", url: `${base}/camera-layer.m3u8` });
    if (lead.kind === "screen" && has.has("sound") && has.has("microphone"))
      layers.push({ role: "sound", url: `${base}/sound-layer.m3u8` });
    return {
      revision: row.number,
      source: row.source,
      state: row.state,
      paused: row.paused,
      layers,
      layout: row.layout,
      preload: [
        ...layers.map((l) => l.url),
        ...["kind.m3u8", "kind/init.mp4", "kind/1.m4s"].flatMap((file) =>
          tracks.map((t) => `${base}/${file.replace("kind", t.kind)}`),
        ),
      ],
      durationUs: Math.max(...tracks.map((t) => Number(t.endUs))),
      frame: lead.init.type === "video" ? { width: lead.init.width, height: lead.init.height } : null,
    };
  }

  /** The text of a playlist of a revision. @throws {Problem} 404 */
  async playlist(recordingId: string, revision: number, name: string): Promise<string> {
    const known = await this.#revision(recordingId, revision);
    const track = (kind: TrackKind) => known.tracks.get(kind) ?? null;
    const mic = track("microphone") ?? track("sound");
    if (name === "main") return this.#main(track("screen") ?? track("camera"), mic);
    if (name === "camera-layer") return this.#main(track("camera"), null);
    if (name === "sound-layer") return this.#main(null, track("sound"));
    const asked = (TRACK_KINDS as readonly string[]).includes(name) ? track(name as TrackKind) : null;
    if (!asked) throw notFound();
    // The state first: a take that completes in between then only looks unfinished once more, never finished too early.
    const [take] = await this.db.rows<{ state: string }>("select state from takes where id = $1", [known.takeId]);
    // As two JSON arrays in one row: an hour has 2,400 segments, and a row for each, or an array for our side to take
    // apart, would cost most of the time.
    const [there] = await this.db.rows<{ numbers: number[]; durations: number[] }>(
      `select coalesce(json_agg(number order by number), '[]') as numbers,
              coalesce(json_agg(duration_us order by number), '[]') as durations from segments where track_id = $1`,
      [asked.id],
    );
    const { numbers, durations } = there!;
    const complete = take?.state === "complete";
    // While parts are still missing, what is there without a gap is shown.
    const gap = complete ? -1 : numbers.findIndex((n, i) => n !== i + 1);
    const segments = (gap < 0 ? numbers : numbers.slice(0, gap)).map((n, i) => ({
      uri: `${asked.kind}/${n}.m4s`,
      duration: durations[i]!,
    }));
    return writeMediaPlaylist({ initUri: `${asked.kind}/init.mp4`, segments, complete });
  }

  /** A segment or init segment, only as part of this revision. @throws {Problem} 404 */
  async file(recordingId: string, revision: number, kind: string, name: string): Promise<MediaFile> {
    const track = (await this.#revision(recordingId, revision)).tracks.get(kind as TrackKind);
    if (!track) throw notFound();
    const type = track.init.type === "video" ? "video/mp4" : "audio/mp4";
    if (name === "init.mp4") return { key: track.initKey, etag: `"${track.id}"`, type };
    const number = /^([1-9]\d{0,5})\.m4s$/.exec(name)?.[1];
    if (!number) throw notFound();
    const id = `${track.id} ${number}`;
    let segment = this.#segments.get(id);
    if (!segment) {
      [segment] = await this.db.rows<KnownSegment>(
        "select key, digest from segments where track_id = $1 and number = $2",
        [track.id, Number(number)],
      );
      if (!segment) throw notFound();
      this.#segments.set(id, segment);
    }
    return { key: segment.key, etag: `"${segment.digest.toString("hex").slice(0, 32)}"`, type };
  }

  async bytes(key: string): Promise<Buffer> {
    const cached = this.#bytes.get(key);
    if (cached) return cached;
    // A class that opens a link at once asks for the same bytes at once: they are read once.
    let reading = this.#reading.get(key);
    if (!reading) {
      reading = this.storage.get(key).finally(() => this.#reading.delete(key));
      this.#reading.set(key, reading);
    }
    const bytes = await reading;
    this.#bytes.set(key, bytes);
    return bytes;
  }

  async #main(picture: KnownTrack | null, sound: KnownTrack | null): Promise<string> {
    if (!picture && !sound) throw notFound();
    const wanted = [picture, sound].filter((t) => t !== null);
    const rates = await this.db.rows<{ id: string; peak: number; average: number }>(
      `select track_id as id, max(size * 8e6 / duration_us)::float8 as peak, (sum(size) * 8e6 / sum(duration_us))::float8 as average
         from segments where track_id = any($1::uuid[]) group by track_id`,
      [wanted.map((t) => t.id)],
    );
    const listed = (track: KnownTrack | null): ListedTrack | null => {
      if (!track) return null;
      const rate = rates.find((r) => r.id === track.id);
      const { codec, width, height, channels } = track.init;
      return {
        uri: `${track.kind}.m3u8`,
        codec,
        width,
        height,
        channels,
        peakRate: rate?.peak ?? 1,
        averageRate: rate?.average ?? 1,
      };
    };
    return writeMainPlaylist(listed(picture), listed(sound));
  }

  async #revision(recordingId: string, number: number): Promise<KnownRevision> {
    const cacheKey = `${recordingId} ${number}`;
    const cached = this.#revisions.get(cacheKey);
    if (cached) return cached;
    const row = await this.db.models.Revision.findOne({ where: { recordingId, number } });
    const takeId = row && parseRecipe(row.recipe).kept[0]?.take;
    if (!takeId) throw notFound();
    const rows = await this.db.models.Track.findAll({ where: { takeId } });
    const tracks = new Map(rows.map((t) => [t.kind, { id: t.id, kind: t.kind, init: t.init, initKey: t.initKey }]));
    const known = { takeId, tracks };
    this.#revisions.set(cacheKey, known);
    return known;
  }
}

/**
 * The track by whose clock a take is played: the picture that was chosen, or the voice. While the take grows that one
 * is waited for, however early another one arrives; of a take that is whole, the best of what there is.
 */
function leadOf<T>(source: TakeSource, complete: boolean, has: ReadonlyMap<TrackKind, T>): T | undefined {
  const chosen = source === "voice" ? "microphone" : source === "camera" ? "camera" : "screen";
  const order: TrackKind[] = complete ? [chosen, "screen", "camera", "microphone", "sound"] : [chosen];
  return order.map((kind) => has.get(kind)).find((track) => track !== undefined);
}

const notFound = () => new Problem(404, "not-found", "There is nothing here that you can open.");
