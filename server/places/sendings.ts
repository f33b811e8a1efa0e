import { randomUUID } from "node:crypto";
import { setTimeout as delay } from "node:timers/promises";
import type { Logger } from "pino";
import type { Audience } from "#core/access/access";
import type { PlaceKind, SendingState } from "#core/places/kinds";
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
  GIVE_UP_SENDING,
  NOTE_SENDING,
  SENDING_TO_DO,
  SENDINGS_OF,
  SENDINGS_UNDER_WAY,
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
}

interface ToDo {
  id: string;
  recordingId: string;
  state: SendingState;
  remote: string | null;
  resume: string | null;
  tries: number;
  kind: PlaceKind;
  address: string;
  account: string;
  secret: Buffer;
  title: string;
  description: string;
  audience: Audience;
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

  /** Sends it to a place, or what is published now once more. @throws {Problem} 404, 409 while it is on its way */
  async send(recordingId: string, placeId: string): Promise<void> {
    const [asked] = await this.parts.db.rows<{ id: string }>(ASK_SENDING, [randomUUID(), recordingId, placeId]);
    if (!asked) throw new Problem(409, "under-way", "It is on its way there, or the place is not there any more.");
    await this.queue.later(asked.id);
  }

  /** Takes it away from a place, or gives up what is on its way. @throws {Problem} 404 */
  async takeAway(recordingId: string, sendingId: string): Promise<void> {
    const [given] = await this.parts.db.rows(GIVE_UP_SENDING, [sendingId, recordingId]);
    if (!given) throw new Problem(404, "not-found", "It is not there any more.");
    await this.queue.cancel(sendingId);
    await this.queue.later(sendingId);
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
      if (todo.state === "removing") return await this.#remove(todo, to, signal);
      const standing =
        todo.state === "processing" ? await this.#looked(todo, to, signal) : await this.#sent(todo, to, signal);
      if (standing === "later") return this.queue.later(id);
      if (standing) await this.#end(todo, standing);
      if (standing?.state === "processing") await this.queue.later(id);
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
      await db.rows(END_SENDING, [id, "failed", null, null, null, problem]);
    }
  }

  async #remove({ id, kind, remote }: ToDo, to: Destination, signal: AbortSignal): Promise<void> {
    if (remote) await this.ways[kind].remove(to, remote, signal);
    await this.parts.db.rows(DROP_SENDING, [id]);
  }

  async #looked({ kind, remote }: ToDo, to: Destination, signal: AbortSignal): Promise<Standing | "later"> {
    for (const until = Date.now() + GO_MS; Date.now() < until;) {
      const standing = await this.ways[kind].look(to, remote!, signal);
      if (standing.state !== "processing") return standing;
      await delay(AGAIN_MS, undefined, { signal });
    }
    return "later";
  }

  /** @returns null where nobody wants it any more */
  async #sent(todo: ToDo, to: Destination, signal: AbortSignal): Promise<Standing | "later" | null> {
    const { db, films, storage } = this.parts;
    const { id, recordingId, kind, title, remote, resume } = todo;
    const film = await films.of(recordingId);
    if (film.state === "failed") throw new PlaceProblem(film.problem);
    if (film.state !== "ready") {
      await films.ask(recordingId);
      await delay(AGAIN_MS, undefined, { signal });
      return "later";
    }
    const { key, size, type, ending } = await films.file(recordingId);
    const given = new AbortController();
    const note = async (bytes: number, at: string | null) => {
      const wanted = await db.rows(NOTE_SENDING, [id, "sending", bytes, size, at]);
      if (wanted.length === 0) given.abort("given up");
    };
    await note(0, null);
    let noted = Date.now();
    try {
      return await this.ways[kind].send(
        to,
        {
          ...{ id: recordingId, size, type, name: `${fileName(title)} ${recordingId.slice(0, 8)}.${ending}` },
          read: (from) => storage.read(key, { from, to: size - 1 }),
        },
        {
          about: aboutOf(todo),
          remote,
          resume,
          onResume: (at) => note(0, at),
          onProgress: (bytes) => {
            if (Date.now() - noted < NOTE_MS) return;
            noted = Date.now();
            note(bytes, null).catch((error: unknown) => given.abort(error));
          },
          signal: AbortSignal.any([signal, given.signal]),
        },
      );
    } catch (error) {
      if (given.signal.reason === "given up") return null;
      throw error;
    }
  }

  async #end({ id, current }: ToDo, { state, remote, link, problem }: Standing): Promise<void> {
    await this.parts.db.rows(END_SENDING, [id, state, remote, link, current, problem ?? null]);
  }
}

const aboutOf = ({ title, description, audience }: ToDo): About => ({
  title,
  description,
  open: audience === "anyone",
});
