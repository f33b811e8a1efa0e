import { randomUUID } from "node:crypto";
import { setTimeout as delay } from "node:timers/promises";
import type { Logger } from "pino";
import type { PlaceKind, SeenBy, SendingState } from "#core/places/kinds";
import type { Database } from "../database/connection";
import type { Films } from "../films/films";
import { fileName } from "../http/file-name";
import { Problem } from "../http/problem";
import type { Storage } from "../storage/storage";
import type { Places } from "./places";
import {
  ASK_SENDING,
  DROP_SENDING,
  END_SENDING,
  FAIL_SENDING,
  GIVE_UP_SENDING,
  NOT_TOLD,
  NOTE_RESUME,
  NOTE_SENDING,
  SEEN_FROM_NOW,
  SENDING_TO_DO,
  SENDINGS_OF,
  SENDINGS_UNDER_WAY,
  TELL_ABOUT,
  TOLD,
  TRY_AGAIN,
} from "./sql";
import { PlaceProblem, type About, type Destination, type Standing, type Way } from "./way";

/** Where a recording is, or could be: a place, and how it stands there. */
export interface SendingRow {
  /** null where the place was given up since */
  placeId: string | null;
  kind: PlaceKind | null;
  name: string;
  /** null where it was not sent there */
  id: string | null;
  state: SendingState | null;
  /** bytes that are there, of so many */
  done: number | null;
  size: number | null;
  link: string | null;
  problem: string | null;
  /** the revision that is there */
  revision: number | null;
  /** who may watch it there, at a channel; null where it was not sent */
  seenBy: SeenBy | null;
}

interface ToDo {
  id: string;
  recordingId: string;
  state: SendingState;
  remote: string | null;
  /** where an upload goes on, and of which file */
  resume: string | null;
  resumeKey: string | null;
  tries: number;
  kind: PlaceKind;
  address: string;
  account: string;
  secret: Buffer;
  title: string;
  description: string;
  seenBy: SeenBy;
  /** what is said of it, counted as it changes; and how much of that the place was told */
  aboutVersion: number;
  toldVersion: number;
  /** the published one */
  current: number;
}

/** How often it is looked whether a film is made, or ready at a place; and for how long in one go. */
const AGAIN_MS = 2_000;
const GO_MS = 60_000;
const NOTE_MS = 500;
const MOST_TRIES = 5;

/** Films at outside places. Who may send one is checked by the callers. */
export class Sendings {
  constructor(
    private readonly parts: { db: Database; storage: Storage; films: Films; places: Places; log: Logger },
    private readonly ways: Record<PlaceKind, Way>,
    private readonly queue: {
      later: (sendingId: string) => Promise<void>;
      cancel: (sendingId: string) => Promise<void>;
    },
  ) {}

  of(recordingId: string): Promise<SendingRow[]> {
    return this.parts.db.rows<SendingRow>(SENDINGS_OF, [recordingId]);
  }

  /** Sends it to a place, or what is published now once more. @throws {Problem} 409 while it is on its way */
  async send(recordingId: string, placeId: string, seenBy: SeenBy = "people"): Promise<void> {
    const row = [randomUUID(), recordingId, placeId, seenBy];
    const [asked] = await this.parts.db.rows<{ id: string }>(ASK_SENDING, row);
    if (!asked) throw new Problem(409, "under-way", "It is on its way there, or the place is not there any more.");
    await this.queue.later(asked.id);
  }

  /** Takes it away from a place, or gives up what is on its way. @throws {Problem} 404 */
  async takeAway(recordingId: string, sendingId: string): Promise<void> {
    const [given] = await this.parts.db.rows(GIVE_UP_SENDING, [sendingId, recordingId]);
    if (!given) throw notThere();
    await this.queue.cancel(sendingId);
    await this.queue.later(sendingId);
  }

  /** Who may watch it at a channel. @throws {Problem} 404 */
  async seenBy(recordingId: string, sendingId: string, seenBy: SeenBy): Promise<void> {
    const rows = await this.parts.db.rows<Changed>(SEEN_FROM_NOW, [sendingId, recordingId, seenBy]);
    if (rows.length === 0) throw notThere();
    await this.#told(rows);
  }

  /** The title of a recording, or what is said of it, has changed: that is changed at places as well. */
  async tell(recordingId: string): Promise<void> {
    await this.#told(await this.parts.db.rows<Changed>(TELL_ABOUT, [recordingId]));
  }

  /** What is under way goes on: the process that worked on it may have died. */
  async goOn(): Promise<void> {
    for (const { id } of await this.parts.db.rows<{ id: string }>(SENDINGS_UNDER_WAY, [])) await this.queue.later(id);
  }

  /** Does what is to be done of one. Safe to run again. */
  async run(id: string, signal: AbortSignal): Promise<void> {
    const { db, places, log } = this.parts;
    const [todo] = await db.rows<ToDo>(SENDING_TO_DO, [id]);
    if (!todo) return;
    const to = places.destination(todo);
    try {
      if (!to) throw new PlaceProblem("The password of this place cannot be read any more. Name the place anew.");
      const more = await this.#do(todo, to, signal);
      if (more) await this.queue.later(id);
    } catch (error) {
      signal.throwIfAborted();
      log.warn({ err: error, sendingId: id }, "a film does not get to a place");
      const passes = !(error instanceof PlaceProblem) || error.passes;
      const problem = error instanceof PlaceProblem ? error.message : "It could not be sent.";
      if (passes && todo.tries < MOST_TRIES) {
        await db.rows(TRY_AGAIN, [id]);
        await delay(AGAIN_MS * 2 ** todo.tries, undefined, { signal });
        return this.queue.later(id);
      }
      await db.rows(todo.state === "there" || todo.state === "failed" ? NOT_TOLD : FAIL_SENDING, [id, problem]);
    }
  }

  /** @returns whether there is more to be done of it */
  async #do(todo: ToDo, to: Destination, signal: AbortSignal): Promise<boolean> {
    const { db } = this.parts;
    const way = this.ways[todo.kind];
    const { id, remote, resume } = todo;
    switch (todo.state) {
      case "removing":
        if (resume !== null) await way.giveUp(to, resume, signal);
        if (remote !== null) await way.remove(to, remote, signal);
        await db.rows(DROP_SENDING, [id]);
        return false;
      // What did not come there may be there as it was before.
      case "there":
      case "failed":
        return this.#say(todo, way, to, signal);
      case "processing": {
        // Whom it is not for any more does not see the one before meanwhile.
        if (todo.toldVersion < todo.aboutVersion) await this.#say(todo, way, to, signal);
        const standing = await this.#looked(way, remote!, to, signal);
        return standing ? this.#end(id, standing, null) : true;
      }
      default: {
        const film = await this.#film(todo.recordingId, signal);
        if (!film) return true;
        const standing = await this.#sent(todo, { way, to, film }, signal);
        return standing ? this.#end(id, standing, todo.aboutVersion) : false;
      }
    }
  }

  /** Tells what is said of it now. @returns whether that has changed meanwhile */
  async #say(todo: ToDo, way: Way, to: Destination, signal: AbortSignal): Promise<boolean> {
    await way.update(to, todo.remote!, aboutOf(todo), signal);
    return isMore(await this.parts.db.rows(TOLD, [todo.id, todo.aboutVersion]));
  }

  /** @returns null while it is still worked on there */
  async #looked(way: Way, remote: string, to: Destination, signal: AbortSignal): Promise<Standing | null> {
    for (const until = Date.now() + GO_MS; Date.now() < until;) {
      const standing = await way.look(to, remote, signal);
      if (standing.state !== "processing") return standing;
      await delay(AGAIN_MS, undefined, { signal });
    }
    return null;
  }

  /** @returns null while the film is not made yet. @throws {PlaceProblem} where it cannot be */
  async #film(recordingId: string, signal: AbortSignal): Promise<Film | null> {
    const { films } = this.parts;
    const film = await films.of(recordingId);
    if (film.state === "failed") throw new PlaceProblem(film.problem);
    if (film.state === "ready") return films.file(recordingId);
    await films.ask(recordingId);
    await delay(AGAIN_MS, undefined, { signal });
    return null;
  }

  /** @returns null where nobody wants it any more */
  async #sent(
    todo: ToDo,
    { way, to, film: { key, size, type, ending } }: { way: Way; to: Destination; film: Film },
    signal: AbortSignal,
  ): Promise<Standing | null> {
    const { db, storage } = this.parts;
    const { id, recordingId, title, remote, current } = todo;
    const given = new AbortController();
    const noted = async (words: Promise<unknown[]>) => {
      const wanted = await words;
      if (wanted.length === 0) given.abort(GIVEN_UP);
    };
    const orGiven = (error: unknown) => given.abort(error);
    // Another film than the one that was begun does not go on where that one broke off.
    const goesOn = todo.resumeKey === key;
    if (todo.resume !== null && !goesOn) await way.giveUp(to, todo.resume, signal);
    await noted(db.rows(NOTE_SENDING, [id, 0, size, current]));
    let last = Date.now();
    try {
      return await way.send(
        to,
        {
          ...{ id: recordingId, size, type, name: `${fileName(title)} ${recordingId.slice(0, 8)}.${ending}` },
          read: (from, end) => storage.read(key, { from, to: end - 1 }),
        },
        {
          about: aboutOf(todo),
          remote,
          resume: goesOn ? todo.resume : null,
          onResume: (at) => void noted(db.rows(NOTE_RESUME, [id, at, key])).catch(orGiven),
          onProgress: (bytes) => {
            if (Date.now() - last < NOTE_MS) return;
            last = Date.now();
            noted(db.rows(NOTE_SENDING, [id, bytes, size, current])).catch(orGiven);
          },
          signal: AbortSignal.any([signal, given.signal]),
        },
      );
    } catch (error) {
      if (given.signal.reason === GIVEN_UP) return null;
      throw error;
    }
  }

  /** @param told the version of what is said of it that the place was told. @returns whether more is to be done */
  async #end(id: string, { state, remote, link, problem }: Standing, told: number | null): Promise<boolean> {
    const row = [id, state, remote, link, problem ?? null, told];
    return isMore(await this.parts.db.rows(END_SENDING, row));
  }

  async #told(rows: readonly Changed[]): Promise<void> {
    // What is on its way there looks for itself when it has come.
    for (const { id, state } of rows) if (TELLS.includes(state)) await this.queue.later(id);
  }
}

type Film = Awaited<ReturnType<Films["file"]>>;
interface Changed {
  id: string;
  state: SendingState;
}

const GIVEN_UP = "given up";
const TELLS: readonly SendingState[] = ["processing", "there", "failed"];

const isMore = (rows: unknown[]): boolean => (rows as { more: boolean }[])[0]?.more ?? false;
const notThere = () => new Problem(404, "not-found", "It is not there any more.");
const aboutOf = ({ title, description, seenBy }: ToDo): About => ({ title, description, seenBy });
