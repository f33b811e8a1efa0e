import { LRUCache } from "lru-cache";
import type { InitInfo } from "#core/media/init";
import { speechIn, type Music } from "#core/audio/music";
import type { Size } from "#core/layout/layout";
import type { ShownMark } from "#core/layout/mark";
import { NO_END, visibleIn, type SceneEvent } from "#core/layout/scene";
import { showsCamera, showsScreen, type TakeSource, type TrackKind, type TrackName } from "#core/media/tracks";
import { writeMainPlaylist, type ListedTrack } from "#core/playlist/hls";
import type { ShownDress } from "#core/recipe/as-shown";
import type { Gained } from "#core/recipe/dress";
import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import { startOfTake } from "#core/recipe/source-line";
import { trackSpans } from "#core/recipe/track-spans";
import type { Micros } from "#core/time/micros";
import { intersect, measure, type Range, type RangeSet } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Channel } from "../live/channel";
import type { Storage } from "../storage/storage";
import { mediaPlaylist, pieceOf, piecesOf, type KnownPiece } from "./pieces";
import { seenOf, whenSeen } from "./seen";
import { PUBLISHED, RATES, TRACKS_HERE, VOICES } from "./sql";

/** One layer of the player: one track. */
export interface Layer {
  role: "main" | "voice" | "camera" | "sound";
  url: string;
  /** where it has something, in shown time; not told where that is from the beginning to its end */
  spans?: readonly Range[];
  /** of what it is */
  name: TrackName;
  /** of a picture, in pixels */
  size?: Size;
  /** it is played so many dB louder than it is; as it is where that is not told */
  gain?: number;
  /** of the main picture that has a voice: a playlist of both */
  withVoice?: string;
}

/** What the watch page needs to play. */
export interface Playable {
  revision: number;
  source: TakeSource;
  /** recording: grows; uploading: the recorder has stopped, the rest is on its way; complete: all here */
  state: "recording" | "uploading" | "complete";
  paused: boolean;
  /** in the order in which they give the pace: a change of speed is heard, and not seen */
  layers: Layer[];
  /** what a player asks for first: playlists, init segments, first segments */
  preload: string[];
  /** the track of the main layer */
  lead: TrackName;
  /** what is drawn, in shown time */
  scenes: SceneEvent[];
  /** what was drawn, in shown time */
  marks: ShownMark[];
  /** what else a recipe says of how it is shown */
  dress: ShownDress;
  /** under all of it, and where it is low because somebody speaks, in shown time */
  music: (Music & { speech: Range[] }) | null;
  durationUs: number;
  /** changes with what a page shows of it while it grows, but for its length */
  growth: string;
  /** shape of the main picture, for the page to keep its place; null for sound alone */
  frame: { width: number; height: number } | null;
}

interface PublishedRow {
  id: string;
  number: number;
  recipe: unknown;
  closedUs: Micros;
  /** of which it shows all that comes; null for what was published of whole takes */
  takeId: string | null;
  /** of the first take, and of all */
  source: TakeSource;
  sources: TakeSource[];
  state: Playable["state"];
  paused: boolean;
}
interface VoiceRow {
  position: number;
  durationUs: Micros;
  looked: boolean;
  voice: Buffer | null;
}
interface KnownSegment {
  key: string;
  digest: Buffer;
  startUs: Micros;
  durationUs: Micros;
}
/** The published revision of a recording, as far as it seldom changes. */
interface KnownRevision {
  id: string;
  number: number;
  /** of which more is to come; null for none */
  grows: string | null;
  /** by the names of the tracks */
  pieces: Map<string, KnownPiece[]>;
  /** when something is seen of those that are not seen all the time: the rest of them is withheld */
  seen: ReadonlyMap<string, RangeSet>;
}

/** The files of a revision by what they are called in its playlists. `shift`: ticks by which a segment is later. */
export type MediaFile = { key: string; etag: string; type: string; shift: number };

const KNOWN_SECONDS = 2;
/** What grows is read once for all who ask within so long; where it grows here, that is known at once. ms */
const GROWING_MS = 500;
/** The number of the revision that is everything as it was recorded. */
const RECORDED = 0;
const recordedOf = (recordingId: string) => `${recordingId} as recorded`;

/** A revision that can be asked for: by its number, while that is the published one; or all that was recorded. */
export type WhichRevision = number | "recorded";

/** Playlists written from rows, and the segments they name. Who may have them is decided before. */
export class Playback {
  #revisions = new LRUCache<string, KnownRevision>({ max: 5_000, ttl: KNOWN_SECONDS * 1000 });
  /** Counts what was forgotten: an answer on its way does not bring back what is not published any more. */
  #generation = 0;
  /** What is complete is written once: an hour has 1,800 lines, and a class opens a link at once. */
  #playlists = new LRUCache<string, string>({ maxSize: 32 * 1024 * 1024, sizeCalculation: (text) => text.length });
  /** of what grows: playlists that are being written, or just were, and what pages ask for over and over */
  #growing = new LRUCache<string, Promise<unknown>>({ max: 5_000, ttl: GROWING_MS });
  /** how often something came in here, by take */
  #grown = new LRUCache<string, number>({ max: 20_000 });
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
    channel: Channel,
  ) {
    // What was published before is gone for everybody at once.
    channel.on("notice", ({ topic, id }) => {
      if (topic === "revision")
        this.#forget(() => [id, recordedOf(id)].forEach((name) => this.#revisions.delete(name)));
    });
    channel.on("resumed", () => this.#forget(() => this.#revisions.clear()));
  }

  /** Something of a take has come in, or it has ended: what was written of it before is not all any more. */
  grew(takeId: string): void {
    this.#grown.set(takeId, (this.#grown.get(takeId) ?? 0) + 1);
  }

  /**
   * What changes with what a page shows of a recording while it grows, in a few bytes; as `Playable` has it, and empty
   * while nothing has arrived. Whoever has another one loads their page anew.
   */
  growth(recordingId: string): Promise<string> {
    return this.#once(`growth ${recordingId}`, async () => {
      const [row] = await this.db.rows<PublishedRow>(PUBLISHED, [recordingId, null]);
      return row ? growthOf(row, await this.db.rows<{ name: TrackName }>(TRACKS_HERE, [row.id])) : "";
    });
  }

  /** What can be played of the published revision; null while nothing has arrived yet. */
  async playable(recordingId: string, token: string): Promise<Playable | null> {
    const [row] = await this.db.rows<PublishedRow>(PUBLISHED, [recordingId, null]);
    return row ? this.#playable(recordingId, row, `/w/${token}/r${row.number}`) : null;
  }

  /** Everything as it was recorded, for its owner, in the order of the takes; null where that is not known. */
  async recorded(recordingId: string): Promise<Playable | null> {
    const [row] = await this.db.rows<PublishedRow>(PUBLISHED, [recordingId, RECORDED]);
    return row ? this.#playable(recordingId, row, `/recordings/${recordingId}/recorded`) : null;
  }

  async #playable(recordingId: string, row: PublishedRow, base: string): Promise<Playable | null> {
    const recipe = parseRecipe(row.recipe);
    const line = new ShownLine(recipe, Infinity);
    const [tracks, seen] = await Promise.all([
      this.db.rows<{ name: TrackName; kind: TrackKind; init: InitInfo; endUs: Micros }>(TRACKS_HERE, [row.id]),
      seenOf(this.db, recordingId, recipe, line),
    ]);
    const { taken, marks, dress } = seen;
    const has = new Map(tracks.map((t) => [t.name, t]));
    const several = row.sources.length > 1;
    const lead = leadOf(row.sources, row.state === "complete" || several, has);
    if (!lead) return null;
    const { type, width = 0, height = 0 } = lead.init;
    const frame = type === "video" ? { width, height } : null;
    const scenes = frame ? seen.scenes(frame) : [];
    const withheld = withholds(row);
    const spansOf = (name: TrackName) => {
      const ends = taken.filter((t) => t.name === name).map((t) => [t.position, t.grows ? Infinity : t.endUs] as const);
      const spans = trackSpans(line, new Map(ends));
      if (!withheld || (name !== "screen" && name !== "camera")) return spans;
      const there = spans ?? [{ from: 0, to: has.get(name)!.endUs }];
      const seenThere = intersect(there, visibleIn(scenes, name));
      return measure(seenThere) < measure(there) - ROUNDED ? seenThere : spans;
    };
    const { picture, voice } = mainOf(has);
    const layer = (role: Layer["role"], { name, init }: { name: TrackName; init: InitInfo }): Layer => {
      const spans = spansOf(name);
      const gain = recipe.gains?.[name as Gained];
      return {
        role,
        name,
        url: `${base}/${name}.m3u8`,
        ...(spans && { spans }),
        ...(gain && { gain }),
        ...sizeOf(init),
      };
    };
    const layers: Layer[] = [];
    if (voice && voice !== lead) layers.push(layer("voice", voice));
    layers.push({ ...layer("main", lead), ...(picture && voice && { withVoice: `${base}/main.m3u8` }) });
    const [camera, sound] = [has.get("camera"), has.get("sound")];
    if (camera && camera !== lead) layers.push(layer("camera", camera));
    if (sound && sound !== lead && sound !== voice) layers.push(layer("sound", sound));
    // What lies on a picture that is not seen is not told either.
    // Where it is seen nowhere, it has no track here any more.
    const drawnOn = leadOf(row.sources, true, new Map(taken.map(({ name }) => [name, name]))) ?? lead.name;
    const leadSeen = withheld ? visibleIn(scenes, drawnOn) : undefined;
    const atOnce = (name: TrackName) => (layers.find((l) => l.name === name)?.spans?.[0]?.from ?? 0) === 0;
    return {
      revision: row.number,
      source: row.source,
      state: row.state,
      paused: row.paused,
      layers,
      lead: lead.name,
      scenes,
      marks: marks.filter((mark) => isSeenIn(leadSeen, mark)),
      dress,
      music: recipe.music?.bed ? { ...recipe.music.bed, speech: await this.#speech(recordingId, line) } : null,
      preload: [
        ...["name.m3u8", "name/init.mp4"].flatMap((file) =>
          tracks.map((t) => `${base}/${file.replace("name", t.name)}`),
        ),
        ...tracks.filter((t) => atOnce(t.name)).map((t) => `${base}/${t.name}/1.m4s`),
      ],
      durationUs: Math.max(row.closedUs, ...tracks.map((t) => t.endUs)),
      growth: growthOf(row, tracks),
      frame,
    };
  }

  /** The text of a playlist of the published revision. @throws {Problem} 404, also for any other revision */
  async playlist(recordingId: string, revision: WhichRevision, name: string): Promise<string> {
    if (name === "main") {
      const { picture, voice } = await this.#find(recordingId, revision, ({ pieces }) => {
        const main = mainOf(pieces);
        return (main.picture ?? main.voice) && main;
      });
      return this.#main(picture ?? null, voice ?? null);
    }
    const { id, seen, grows } = await this.#find(recordingId, revision, (known) => known.pieces.has(name) && known);
    const times = seen.get(name);
    const called = `${id} ${name} ${JSON.stringify(times)}`;
    const known = this.#playlists.get(called);
    if (known) return known;
    const write = () => mediaPlaylist(this.db, id, name, (shown) => isSeenIn(times, shown));
    const { text, complete } = await (grows
      ? this.#once(`${called} ${grows} ${this.#grown.get(grows) ?? 0}`, write)
      : write());
    if (complete) this.#playlists.set(called, text);
    return text;
  }

  /** The same for all who ask at once, or just after: a class that watches while it is recorded asks all the time. */
  #once<T>(called: string, read: () => Promise<T>): Promise<T> {
    const known = this.#growing.get(called) as Promise<T> | undefined;
    if (known) return known;
    const reading = read();
    this.#growing.set(called, reading);
    reading.catch(() => this.#growing.delete(called));
    return reading;
  }

  /** A segment or init segment, only as part of the published revision. @throws {Problem} 404 */
  async file(recordingId: string, revision: WhichRevision, track: string, name: string): Promise<MediaFile> {
    const init = /^init(?:-([2-9]|[1-9]\d{1,4}))?\.mp4$/.exec(name);
    if (init) {
      const piece = await this.#find(
        recordingId,
        revision,
        ({ pieces }) => pieces.get(track)?.[Number(init[1] ?? 1) - 1],
      );
      return {
        key: piece.initKey,
        etag: `"${piece.initKey.slice(piece.initKey.lastIndexOf("/") + 1)}"`,
        type: piece.type,
        shift: 0,
      };
    }
    const place = /^([1-9]\d{0,5})\.m4s$/.exec(name)?.[1];
    if (!place) throw notFound();
    const { piece, number, shift, times } = await this.#find(recordingId, revision, ({ pieces, seen }) => {
      const found = pieceOf(pieces.get(track) ?? [], Number(place));
      return found && { ...found, times: seen.get(track) };
    });
    const segment = await this.#segment(piece.trackId, number);
    const from = segment.startUs + piece.movedUs;
    // By the same times as the playlist: what that leaves out is not there, and what it names is.
    if (!isSeenIn(times, { from, to: from + segment.durationUs })) throw notFound();
    return { key: segment.key, etag: `"${tagOf(segment)}${shift === 0 ? "" : `-${shift}`}"`, type: piece.type, shift };
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

  /** Where somebody speaks, in shown time: everywhere in takes that were not looked over yet. */
  async #speech(recordingId: string, line: ShownLine): Promise<Range[]> {
    const voices = await this.db.rows<VoiceRow>(VOICES, [recordingId]);
    const speech = voices.flatMap(({ position, durationUs, looked, voice }) => {
      const take = { from: startOfTake(position), to: startOfTake(position) + durationUs };
      return looked ? speechIn(voice && new Int8Array(voice), take) : [take];
    });
    return speech.flatMap((stretch) => line.toShownRanges(stretch)).sort((a, b) => a.from - b.from);
  }

  async #whenSeen(recordingId: string, row: PublishedRow): Promise<ReadonlyMap<string, RangeSet>> {
    const recipe = parseRecipe(row.recipe);
    const all = await whenSeen(this.db, recordingId, recipe, new ShownLine(recipe, Infinity));
    return new Map([...all].filter(([, times]) => !isAlways(times)));
  }

  async #segment(trackId: string, number: number): Promise<KnownSegment> {
    const id = `${trackId} ${number}`;
    const known = this.#segments.get(id);
    if (known) return known;
    const segment = await this.db.models.Segment.findOne({
      where: { trackId, number },
      attributes: ["key", "digest", "startUs", "durationUs"],
      raw: true,
    });
    if (!segment) throw notFound();
    this.#segments.set(id, segment);
    return segment;
  }

  async #main(picture: KnownPiece[] | null, sound: KnownPiece[] | null): Promise<string> {
    const wanted = [picture, sound].flatMap((pieces) => pieces?.map((p) => p.trackId) ?? []);
    const rates = await this.db.rows<{ id: string; peak: number; average: number }>(RATES, [wanted]);
    const listed = (pieces: KnownPiece[] | null): ListedTrack | null => {
      if (!pieces) return null;
      const some = rates.filter((r) => pieces.some((p) => p.trackId === r.id));
      const { codec, width, height, channels } = pieces[0]!.init;
      return {
        uri: `${pieces[0]!.name}.m3u8`,
        codec,
        width,
        height,
        channels,
        peakRate: Math.max(1, ...some.map((r) => r.peak)),
        averageRate: Math.max(1, ...some.map((r) => r.average)),
      };
    };
    return writeMainPlaylist(listed(picture), listed(sound));
  }

  #forget(forget: () => void): void {
    this.#generation++;
    forget();
  }

  /** Something of the published revision, which may have come in after that was looked at. @throws {Problem} 404 */
  async #find<T>(recordingId: string, which: WhichRevision, pick: (known: KnownRevision) => T): Promise<Found<T>> {
    for (const fresh of [false, true]) {
      const name = which === "recorded" ? recordedOf(recordingId) : recordingId;
      if (fresh) this.#revisions.delete(name);
      const known = await this.#revision(recordingId, which, name);
      const found = pick(known);
      if (found) return found as Found<T>;
      if (!known.grows) break;
    }
    throw notFound();
  }

  /** @throws {Problem} 404 for every number but that of the published one */
  async #revision(recordingId: string, which: WhichRevision, name: string): Promise<KnownRevision> {
    const number = which === "recorded" ? RECORDED : which;
    let known = this.#revisions.get(name);
    // A later one than is known here was published by another process just now.
    if (!known || known.number < number) {
      const generation = this.#generation;
      const wanted = which === "recorded" ? RECORDED : null;
      const [row] = await this.db.rows<PublishedRow>(PUBLISHED, [recordingId, wanted]);
      if (!row) throw notFound();
      const [pieces, seen] = await Promise.all([
        piecesOf(this.db, row.id),
        withholds(row) ? this.#whenSeen(recordingId, row) : NOTHING_WITHHELD,
      ]);
      known = { id: row.id, number: row.number, grows: row.state === "complete" ? null : row.takeId, pieces, seen };
      if (generation === this.#generation) this.#revisions.set(name, known);
    }
    if (known.number !== number) throw notFound();
    return known;
  }
}

type Found<T> = Exclude<T, null | undefined | false>;

/** What is the main picture, and what is heard with it, of what there is. */
const mainOf = <T>(has: ReadonlyMap<string, T>) => ({
  picture: has.get("screen") ?? has.get("camera"),
  voice: has.get("microphone") ?? has.get("sound"),
});

/** Empty while there is no picture or sound yet that leads, so that nothing can be played. */
function growthOf({ number, state, paused, sources }: PublishedRow, tracks: readonly { name: TrackName }[]): string {
  const names = tracks.map(({ name }) => name);
  const has = new Map(names.map((name) => [name, name]));
  if (!leadOf(sources, state === "complete" || sources.length > 1, has)) return "";
  return [number, state, paused ? "paused" : "", ...names].join(" ");
}

const sizeOf = ({ type, width = 0, height = 0 }: InitInfo) => type === "video" && { size: { width, height } };

const isAlways = ([first, ...more]: RangeSet) => more.length === 0 && first?.from === 0 && first.to >= NO_END;
const NOTHING_WITHHELD: ReadonlyMap<string, RangeSet> = new Map();
/** More than rounding takes: what a playlist names as there is there. */
const ROUNDED: Micros = 1_000;

/**
 * Is what a scene hides withheld from whoever watches? Of what is published, when all of it is here: while it grows,
 * the next scene is not known. Its owner has everything.
 */
const withholds = ({ number, state, sources }: PublishedRow) =>
  number !== RECORDED && state === "complete" && sources.includes("screen-camera");

const isSeenIn = (times: RangeSet | undefined, { from, to }: Range) =>
  !times || times.some((time) => time.from < to && from < time.to);

/**
 * The track that the others are shown with: the largest picture that was chosen for a take, or the voice. While the
 * take grows that one is waited for, however early another one arrives; else it is the best of what there is.
 * @param complete nothing has to be waited for
 */
function leadOf<T>(sources: readonly TakeSource[], complete: boolean, has: ReadonlyMap<string, T>): T | undefined {
  const chosen = sources.some(showsScreen) ? "screen" : sources.some(showsCamera) ? "camera" : "microphone";
  const order: TrackKind[] = complete ? [chosen, "screen", "camera", "microphone", "sound"] : [chosen];
  return order.map((kind) => has.get(kind)).find((track) => track !== undefined);
}

const tagOf = ({ digest }: KnownSegment) => digest.toString("hex").slice(0, 32);
const notFound = () => new Problem(404, "not-found", "There is nothing here that you can open.");
