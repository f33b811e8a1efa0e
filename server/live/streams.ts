import { randomUUID } from "node:crypto";
import type { ServerResponse } from "node:http";
import type { Logger } from "pino";
import { COMMENT_COLUMNS, COMMENT_TABLES, type ShownComment } from "../answers/comments";
import { REACTION_COLUMNS, REACTION_TABLES, type ShownReaction } from "../answers/reactions";
import { ASK_COLUMNS } from "../answers/asks";
import { NOTHING_ASKED, type Ask } from "#core/answers/kinds";
import type { Viewer } from "../answers/viewers";
import type { Database } from "../database/connection";
import type { Channel } from "./channel";
import type { EventKind } from "./events";

/**
 * What a page is told. A comment or reaction comes as it is now; null when it was taken back. Being told the same twice
 * changes nothing.
 * `again`: too much was missed, the page has to be loaded anew.
 */
export type Told =
  | { kind: "comment"; id: string; comment: ShownComment | null }
  | { kind: "reaction"; id: string; reaction: ShownReaction | null }
  | { kind: "ask"; ask: Ask }
  | { kind: "people" }
  | { kind: "watching"; count: number }
  | { kind: "again" };

interface Stream {
  /** of this open page */
  id: string;
  viewer: Viewer;
  res: ServerResponse;
  /** the number of the last event that it was told */
  told: number;
}

/** All pages of one recording that this process serves. */
interface Hub {
  streams: Set<Stream>;
  running: boolean;
  again: boolean;
  watching: NodeJS.Timeout | null;
}

const RENEW_MS = 20_000;
/** An open page whose row is older than this has no process any more. */
const STALE_SECONDS = 50;
/** Events that a page may have missed before it is quicker to load it anew. */
const MOST_MISSED = 500;
const WATCHING_MS = 250;
const RETRY_MS = 2_000;

interface EventRow {
  id: string;
  kind: EventKind;
  subject: string | null;
  senderOnly: boolean;
}

/** Server-sent events (WHATWG HTML, 9.2) to the open pages of recordings, fed by the log of events. */
export class Streams {
  #hubs = new Map<string, Hub>();
  /** open connections for news, by member */
  #news = new Map<string, Set<ServerResponse>>();
  #renew: NodeJS.Timeout;

  constructor(
    private readonly db: Database,
    private readonly channel: Channel,
    private readonly log: Logger,
  ) {
    channel.on("notice", ({ topic, id }) => {
      if (topic === "event") {
        this.#pump(id);
        this.#guard(this.#tellNews(id));
      }
      if (topic === "pages") this.#tellWatching(id);
      // Who may watch has changed: every page asks again, and is refused if it has to be.
      if (topic === "recording") this.#endAll(id);
    });
    channel.on("resumed", () => this.#hubs.forEach((_, id) => this.#pump(id)));
    this.#renew = setInterval(() => this.#guard(this.#renewAll()), RENEW_MS).unref();
  }

  /** Keeps a response open and tells it everything after event `after`. */
  async open(recordingId: string, viewer: Viewer, after: number, res: ServerResponse): Promise<void> {
    const stream: Stream = { id: randomUUID(), viewer, res, told: after };
    head(res);
    let hub = this.#hubs.get(recordingId);
    if (!hub) this.#hubs.set(recordingId, (hub = { streams: new Set(), running: false, again: false, watching: null }));
    hub.streams.add(stream);
    res.once("close", () => this.#guard(this.#closed(recordingId, stream)));
    this.#pump(recordingId);
    await this.db.rows("insert into open_pages (id, recording_id, viewer_id) values ($1, $2, $3) returning id", [
      stream.id,
      recordingId,
      viewer.id,
    ]);
    await this.channel.tell({ topic: "pages", id: recordingId });
  }

  /** Tells a member's pages that something has changed for them, wherever it is; they look for themselves what. */
  openNews(memberId: string, res: ServerResponse): void {
    head(res);
    const all = this.#news.get(memberId) ?? new Set();
    this.#news.set(memberId, all.add(res));
    res.once("close", () => {
      all.delete(res);
      if (all.size === 0) this.#news.delete(memberId);
    });
  }

  async #tellNews(recordingId: string): Promise<void> {
    if (this.#news.size === 0) return;
    const rows = await this.db.rows<{ id: string }>(
      `select r.owner_id as id from recordings r where r.id = $1 and r.owner_id = any($2::uuid[])
       union select v.member_id from viewers v where v.recording_id = $1 and v.member_id = any($2::uuid[])
       union select i.member_id from invites i where i.recording_id = $1 and i.member_id = any($2::uuid[])`,
      [recordingId, [...this.#news.keys()]],
    );
    for (const { id } of rows) for (const res of this.#news.get(id) ?? []) res.write("data: {}\n\n");
  }

  async close(): Promise<void> {
    clearInterval(this.#renew);
    for (const all of this.#news.values()) for (const res of all) res.end();
    const ids = [...this.#hubs.values()].flatMap((hub) => [...hub.streams].map((s) => s.id));
    for (const id of [...this.#hubs.keys()]) this.#endAll(id);
    await this.#forget(ids);
  }

  async #closed(recordingId: string, stream: Stream): Promise<void> {
    const hub = this.#hubs.get(recordingId);
    // Closing with the whole process forgets all pages at once.
    if (!hub?.streams.delete(stream)) return;
    if (hub.streams.size === 0) this.#hubs.delete(recordingId);
    await this.#forget([stream.id]);
    await this.channel.tell({ topic: "pages", id: recordingId });
  }

  async #forget(ids: string[]): Promise<void> {
    if (ids.length > 0) await this.db.rows("delete from open_pages where id = any($1::uuid[]) returning id", [ids]);
  }

  #endAll(recordingId: string): void {
    for (const stream of this.#hubs.get(recordingId)?.streams ?? []) stream.res.end();
  }

  /**
   * Tells every page of a recording what it was not told yet. One round at a time; news that comes meanwhile makes one
   * more.
   */
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
    const from = Math.min(...streams.map((s) => s.told));
    const rows = await this.db.rows<EventRow>(
      `select id, kind, subject, sender_only as "senderOnly" from events where recording_id = $1 and id > $2 order by id limit ${MOST_MISSED + 1}`,
      [recordingId, from],
    );
    if (rows.length === 0) return;
    const newest = Number(rows.at(-1)!.id);
    if (rows.length > MOST_MISSED) {
      // Those who are that far behind load the page anew; it will show all of this. The others are told in the next
      // round.
      for (const s of streams.filter((s) => s.told < newest)) {
        s.res.write(words({ kind: "again" }, newest));
        s.told = newest;
      }
      hub.again = true;
      return;
    }
    const told = await this.#words(recordingId, rows);
    for (const s of streams) {
      for (const { id, senderOnly, text } of told)
        if (id > s.told && (!senderOnly || s.viewer.isSender)) s.res.write(text);
      s.told = Math.max(s.told, newest);
    }
  }

  /**
   * The text of each event, with what it is about as it is now. Of several about the same thing the last says it all.
   */
  async #words(recordingId: string, rows: EventRow[]): Promise<{ id: number; senderOnly: boolean; text: string }[]> {
    const last = [
      ...new Map(rows.map((row) => [`${row.kind === "answer" ? "viewer" : row.kind} ${row.subject}`, row])).values(),
    ];
    const subjects = (kind: EventKind) =>
      last.flatMap((row) => (row.kind === kind && row.subject ? [row.subject] : []));
    const [comments, reactions, [ask]] = await Promise.all([
      this.#some<ShownComment>(
        `select ${COMMENT_COLUMNS} from ${COMMENT_TABLES} where c.id = any($1::uuid[])`,
        subjects("comment"),
      ),
      this.#some<ShownReaction>(
        `select ${REACTION_COLUMNS} from ${REACTION_TABLES} where x.id = any($1::uuid[])`,
        subjects("reaction"),
      ),
      last.some((row) => row.kind === "ask")
        ? this.db.rows<Ask>(`select ${ASK_COLUMNS} from asks a where a.recording_id = $1`, [recordingId])
        : [],
    ]);
    const told = ({ kind, subject }: EventRow): Told => {
      if (kind === "comment") return { kind, id: subject!, comment: comments.find((c) => c.id === subject) ?? null };
      if (kind === "reaction") return { kind, id: subject!, reaction: reactions.find((r) => r.id === subject) ?? null };
      return kind === "ask" ? { kind, ask: ask ?? NOTHING_ASKED } : { kind: "people" };
    };
    return last
      .sort((a, b) => Number(a.id) - Number(b.id))
      .map((row) => ({ id: Number(row.id), senderOnly: row.senderOnly, text: words(told(row), Number(row.id)) }));
  }

  async #some<T extends object>(sql: string, ids: string[]): Promise<T[]> {
    return ids.length > 0 ? this.db.rows<T>(sql, [ids]) : [];
  }

  /**
   * Tells the sender's pages how many others have the page open, a little later, once for all who come and go
   * meanwhile.
   */
  #tellWatching(recordingId: string): void {
    const hub = this.#hubs.get(recordingId);
    if (!hub || hub.watching || ![...hub.streams].some((s) => s.viewer.isSender)) return;
    hub.watching = setTimeout(() => {
      hub.watching = null;
      this.#guard(this.#countWatching(recordingId, hub));
    }, WATCHING_MS);
  }

  async #countWatching(recordingId: string, hub: Hub): Promise<void> {
    const [row] = await this.db.rows<{ count: number }>(
      `select count(distinct p.viewer_id)::int as count from open_pages p join viewers v on v.id = p.viewer_id
        where p.recording_id = $1 and v.number >= 0 and p.renewed_at > now() - make_interval(secs => ${STALE_SECONDS})`,
      [recordingId],
    );
    for (const s of hub.streams) if (s.viewer.isSender) send(s, { kind: "watching", count: row!.count });
  }

  /**
   * Says that this process's pages are still open, keeps their connections from being closed as idle, and forgets those
   * of processes that died.
   */
  async #renewAll(): Promise<void> {
    const ids: string[] = [];
    for (const [id, hub] of this.#hubs) {
      for (const stream of hub.streams) {
        ids.push(stream.id);
        stream.res.write(":\n\n");
      }
      this.#tellWatching(id);
    }
    for (const all of this.#news.values()) for (const res of all) res.write(":\n\n");
    if (ids.length > 0)
      await this.db.rows("update open_pages set renewed_at = now() where id = any($1::uuid[]) returning id", [ids]);
    await this.db.rows(
      `delete from open_pages where renewed_at < now() - make_interval(secs => ${2 * STALE_SECONDS}) returning id`,
    );
  }

  #guard(work: Promise<unknown>): void {
    work.catch((err: unknown) => this.log.error({ err }, "live streams"));
  }
}

function head(res: ServerResponse): void {
  res.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" });
  res.write(`retry: ${RETRY_MS}\n\n`);
}

/** One message. Only what is in the log has a number: a page goes on after the last number it has heard. */
const words = (told: Told, id?: number) => `${id === undefined ? "" : `id: ${id}\n`}data: ${JSON.stringify(told)}\n\n`;
const send = (stream: Stream, told: Told) => void stream.res.write(words(told));
