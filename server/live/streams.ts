import { randomUUID } from "node:crypto";
import type { ServerResponse } from "node:http";
import type { Logger } from "pino";
import type { Viewer } from "../answers/viewers";
import type { Database } from "../database/connection";
import { Admission, type Counted } from "./admission";
import type { Channel } from "./channel";
import { Connection } from "./connection";
import { Presence } from "./presence";
import { CONCERNED } from "./sql";
import { eventsAfter, message, wordsOf } from "./told";

export type { Told } from "./told";

/** Who listens: for limits, and for ending what their session may not hear any more. */
export type Listener = Omit<Counted, "viewer"> & {
  /** null for a guest */
  person: string | null;
};

/** What every open stream has, whatever it is of. */
interface SignedInStream {
  person: string | null;
  session: string | null;
  connection: Connection;
}

/** One open page of a recording. */
interface Stream extends SignedInStream {
  id: string;
  viewer: Viewer;
  /** the number of the last event that it was told */
  told: number;
  /** rejects where it has to end */
  stillAllowed: () => Promise<unknown>;
}

/** All pages of one recording that this process serves. */
interface Hub {
  streams: Set<Stream>;
  running: boolean;
  again: boolean;
  watching: NodeJS.Timeout | null;
}

const RENEW_MS = 20_000;
/** Events that a page may have missed before it is quicker to load it anew. */
const MOST_MISSED = 500;
const WATCHING_MS = 250;
const COMMENT = ":\n\n";

/** Server-sent events to the open pages of recordings, fed by the log of events. */
export class Streams {
  #hubs = new Map<string, Hub>();
  /** by member */
  #news = new Map<string, Set<SignedInStream>>();
  #admission: Admission;
  #presence: Presence;
  #renew: NodeJS.Timeout;

  constructor(
    private readonly db: Database,
    private readonly channel: Channel,
    private readonly log: Logger,
    admission = new Admission(),
  ) {
    this.#admission = admission;
    this.#presence = new Presence(db);
    channel.on("notice", ({ topic, id }) => {
      if (topic === "event") {
        this.#pump(id);
        this.#guard(this.#tellNews(id));
      }
      if (topic === "pages") this.#tellWatching(id);
      // Who may watch has changed. Asked a little later: what others remember of it is forgotten by then.
      if (topic === "recording") setImmediate(() => this.#guard(this.#askAgain(this.#hubs.get(id)?.streams ?? [])));
      // Who may see what lies in a folder, or in one within it.
      if (topic === "folder") setImmediate(() => this.#guard(this.#askAgain(this.#pages())));
      if (topic === "session") this.#endWhere((s) => s.session === id);
      // What they may see has changed: their pages ask again.
      if (topic === "person") this.#endWhere((s) => s.person === id);
    });
    // What was told while the channel was lost is not known: who may watch, who is signed in. Every page asks again.
    channel.on("resumed", () => this.#endEverything());
    this.#renew = setInterval(() => this.#guard(this.#renewAll()), RENEW_MS).unref();
  }

  /** how many are open in this process */
  get count(): number {
    return this.#admission.count;
  }

  /**
   * Keeps a response open and tells it everything after event `after`.
   * @param stillAllowed asked when the stream is registered (what was withdrawn just before would not end it), whenever
   *   who may watch has changed, and now and then: a recording may have an end
   * @throws {Problem} when too many are open, or it is not allowed any more
   */
  async open(
    recordingId: string,
    viewer: Viewer,
    after: number,
    res: ServerResponse,
    listener: Listener,
    stillAllowed: () => Promise<unknown>,
  ): Promise<void> {
    const leave = this.#admission.enter({ viewer: viewer.id, ...listener });
    const id = randomUUID();
    let hub = this.#hubs.get(recordingId);
    if (!hub) this.#hubs.set(recordingId, (hub = { streams: new Set(), running: false, again: false, watching: null }));
    const { streams } = hub;
    const connection = new Connection(res, () => {
      leave();
      streams.delete(stream);
      if (streams.size === 0) this.#hubs.delete(recordingId);
      this.#guard(this.#left(recordingId, id));
    });
    const { person, session } = listener;
    const stream: Stream = { id, viewer, person, session, connection, told: after, stillAllowed };
    streams.add(stream);
    await this.#askAgain([stream]);
    if (connection.ended) return;
    this.#pump(recordingId);
    this.#guard(this.#came(recordingId, stream));
  }

  /** Tells a member's pages that something has changed for them, wherever it is; they look for themselves what. */
  openNews(personId: string, res: ServerResponse, listener: Listener): void {
    const leave = this.#admission.enter({ viewer: `news ${personId}`, ...listener });
    const all = this.#news.get(personId) ?? new Set();
    const stream: SignedInStream = {
      person: personId,
      session: listener.session,
      connection: new Connection(res, () => {
        leave();
        all.delete(stream);
        if (all.size === 0) this.#news.delete(personId);
      }),
    };
    this.#news.set(personId, all.add(stream));
  }

  async close(): Promise<void> {
    clearInterval(this.#renew);
    const ids = this.#pages().map((s) => s.id);
    this.#endEverything();
    await this.#presence.remove(ids);
  }

  async #came(recordingId: string, { id, viewer, connection }: Stream): Promise<void> {
    await this.#presence.add(id, recordingId, viewer.id);
    // It may have gone before its row was there.
    if (connection.ended) return this.#presence.remove([id]);
    await this.channel.tell({ topic: "pages", id: recordingId });
  }

  async #left(recordingId: string, id: string): Promise<void> {
    await this.#presence.remove([id]);
    await this.channel.tell({ topic: "pages", id: recordingId });
  }

  async #tellNews(recordingId: string): Promise<void> {
    if (this.#news.size === 0) return;
    const rows = await this.db.rows<{ id: string }>(CONCERNED, [recordingId, [...this.#news.keys()]]);
    for (const { id } of rows) for (const s of this.#news.get(id) ?? []) s.connection.write("data: {}\n\n");
  }

  /** Ends those that are not allowed any more; their pages ask again, and hear why. */
  async #askAgain(streams: Iterable<Stream>): Promise<void> {
    await Promise.all([...streams].map(({ stillAllowed, connection }) => stillAllowed().catch(() => connection.end())));
  }

  #endWhere(told: (stream: SignedInStream) => boolean): void {
    for (const stream of this.#all()) if (told(stream)) stream.connection.end();
  }

  #endEverything(): void {
    this.#endWhere(() => true);
  }

  #all(): SignedInStream[] {
    return [...this.#pages(), ...[...this.#news.values()].flatMap((all) => [...all])];
  }

  #pages(): Stream[] {
    return [...this.#hubs.values()].flatMap((hub) => [...hub.streams]);
  }

  /** Tells every page of a recording what it was not told yet. One round at a time; news meanwhile makes one more. */
  #pump(recordingId: string): void {
    const hub = this.#hubs.get(recordingId);
    if (!hub) return;
    if (hub.running) {
      hub.again = true;
      return;
    }
    hub.running = true;
    this.#guard(
      this.#round(recordingId, hub).finally(() => {
        hub.running = false;
        if (!hub.again) return;
        hub.again = false;
        this.#pump(recordingId);
      }),
    );
  }

  async #round(recordingId: string, hub: Hub): Promise<void> {
    const streams = [...hub.streams];
    if (streams.length === 0) return;
    const from = Math.min(...streams.map((s) => s.told));
    const rows = await eventsAfter(this.db, recordingId, from, MOST_MISSED + 1);
    if (rows.length === 0) return;
    const newest = rows.at(-1)!.id;
    if (rows.length > MOST_MISSED) {
      // Those who are that far behind load the page anew; it will show all of this. The others are told in the next
      // round.
      for (const s of streams.filter((s) => s.told < newest)) {
        s.connection.write(message({ kind: "again" }, newest));
        s.told = newest;
      }
      hub.again = true;
      return;
    }
    const told = await wordsOf(this.db, recordingId, rows);
    for (const s of streams) {
      for (const { id, senderOnly, text } of told) {
        if (id > s.told && (!senderOnly || s.viewer.isSender)) s.connection.write(text);
      }
      s.told = Math.max(s.told, newest);
    }
  }

  /** Tells the sender's pages how many others have the page open, a little later, once for all who come and go. */
  #tellWatching(recordingId: string): void {
    const hub = this.#hubs.get(recordingId);
    if (!hub || hub.watching || ![...hub.streams].some((s) => s.viewer.isSender)) return;
    hub.watching = setTimeout(() => {
      hub.watching = null;
      this.#guard(this.#countWatching(recordingId, hub));
    }, WATCHING_MS);
  }

  async #countWatching(recordingId: string, hub: Hub): Promise<void> {
    const count = await this.#presence.watching(recordingId);
    for (const s of hub.streams) if (s.viewer.isSender) s.connection.write(message({ kind: "watching", count }));
  }

  /** Says that this process's pages are still open, and keeps their connections from being closed as idle. */
  async #renewAll(): Promise<void> {
    const ids = this.#pages().map((s) => s.id);
    for (const { connection } of this.#all()) connection.write(COMMENT);
    for (const id of this.#hubs.keys()) this.#tellWatching(id);
    await this.#askAgain(this.#pages());
    await this.#presence.renew(ids);
  }

  #guard(work: Promise<unknown>): void {
    work.catch((err: unknown) => this.log.error({ err }, "live streams"));
  }
}
