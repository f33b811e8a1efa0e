import { randomUUID } from "node:crypto";
import { stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { Logger } from "pino";
import sharp from "sharp";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Work } from "../editing/sounds";
import type { Pictures } from "../editing/pictures";
import { inFolder } from "../jobs/work-room";
import type { Playable, Playback } from "../playback/playback";
import type { Library } from "../recordings/library";
import { MissingObject, StorageFull, type Storage } from "../storage/storage";
import type { PutOn } from "./drawn";
import { writeFilm } from "./file";
import { partsOf, plainPictures, plainSound, type Material, type Part } from "./plan";
import { writeRuns, type MovedRun, type Run } from "./runs";
import { isHeard, writeSound } from "./sound";
import {
  ASK_FILM,
  CANCEL_FILM,
  END_LONG_FILMS,
  FAIL_FILM,
  FILM,
  FILM_TO_MAKE,
  FILMS_WAITED_FOR,
  WANTS_FILM,
  KEEP_FILM,
  NOTE_FILM_PROGRESS,
  RUNS,
} from "./sql";

/** Where the film of a recording stands. */
export type Film =
  | { state: "none" }
  /** on its way: so much of it, 0 to 1 */
  | { state: "waiting"; done: number }
  | { state: "failed"; problem: string }
  /** there; `size` in bytes */
  | { state: "ready"; size: number; madeAt: string };

interface FilmRow {
  state: "waiting" | "ready" | "failed";
  done: number;
  wanted: number;
  problem: string | null;
  key: string | null;
  size: number | null;
  madeAt: Date | null;
  isCurrent: boolean;
}
interface Wanted {
  id: string;
  token: string;
  title: string;
  sender: string;
  /** what the words that it holds are told by */
  words: string;
  revisionId: string;
  revision: number;
}

/** Others have their turn: what takes longer is done in several goes. */
const GO_MS = 20_000;
/** Sound is mixed in one go: it begins early in one. */
const EARLY_MS = 15_000;
/** Of all the work, the sound is so much: a tenth of what the pictures are. */
const SOUND_SHARE = 0.1;
/** Films that show a picture, and those of a voice alone. */
const KINDS = {
  picture: { ending: "mp4", type: "video/mp4" },
  sound: { ending: "m4a", type: "audio/mp4" },
} as const;

/** Recordings as one file. Who may ask for one, and have it, is checked by the callers. */
export class Films {
  constructor(
    private readonly parts: {
      db: Database;
      storage: Storage;
      playback: Playback;
      library: Library;
      pictures: Pictures;
      log: Logger;
    },
    private readonly queue: {
      later: (recordingId: string) => Promise<void>;
      /** what was begun goes on, after others had their turn */
      again: (recordingId: string) => Promise<void>;
      cancel: (recordingId: string) => Promise<void>;
    },
  ) {}

  async of(recordingId: string): Promise<Film> {
    const row = await this.#row(recordingId);
    if (!row) return { state: "none" };
    switch (row.state) {
      case "waiting":
        return { state: "waiting", done: row.wanted === 0 ? 0 : row.done / row.wanted };
      case "failed":
        return { state: "failed", problem: row.problem! };
      case "ready":
        return row.isCurrent
          ? { state: "ready", size: row.size!, madeAt: row.madeAt!.toISOString() }
          : { state: "none" };
    }
  }

  /** Asks for it, unless it is on its way or there. @param anew also where it is there */
  async ask(recordingId: string, { anew = false } = {}): Promise<void> {
    await this.parts.db.rows(ASK_FILM, [recordingId, randomUUID(), anew]);
    // Also where it waits already: its work may have been lost with a process.
    if ((await this.#row(recordingId))?.state === "waiting") await this.queue.later(recordingId);
  }

  /**
   * Something else is shown of it, it is called something else, or all of it is here now: whoever may have it as a file
   * is to find that.
   */
  async renew(recordingId: string): Promise<void> {
    const [wants] = await this.parts.db.rows(WANTS_FILM, [recordingId]);
    if (wants) await this.ask(recordingId);
  }

  /** What is waited for goes on: the process that worked on it may have died. Done twice, it is the same. */
  async goOn(): Promise<void> {
    await this.parts.db.rows(END_LONG_FILMS, ["It took longer than a day. Try it again, or make a part of it."]);
    for (const { id } of await this.parts.db.rows<{ id: string }>(FILMS_WAITED_FOR, [])) await this.queue.later(id);
  }

  /** Nobody waits for it any more. */
  async cancel(recordingId: string): Promise<void> {
    const [cancelled] = await this.parts.db.rows(CANCEL_FILM, [recordingId]);
    if (!cancelled) return;
    await this.queue.cancel(recordingId);
    await this.parts.storage.removeAll(filmFolder(recordingId));
  }

  /** What is stored of the one that shows what is published. @throws {Problem} 404 */
  async file(recordingId: string): Promise<{ key: string; size: number; type: string; ending: string }> {
    const row = await this.#row(recordingId);
    if (row?.state !== "ready" || !row.isCurrent)
      throw new Problem(404, "no-film", "This recording is not there as a file.");
    const kind = row.key!.endsWith(KINDS.picture.ending) ? KINDS.picture : KINDS.sound;
    return { key: row.key!, size: row.size!, ...kind };
  }

  /** Makes the film that is waited for, or a part of the work; what is left is asked for again. Safe to run again. */
  async make(recordingId: string, signal: AbortSignal): Promise<void> {
    const { db, log } = this.parts;
    const [wanted] = await db.rows<Wanted>(FILM_TO_MAKE, [recordingId]);
    if (!wanted) return;
    try {
      await inFolder((dir) => this.#make(recordingId, wanted, { storage: this.parts.storage, dir, signal }));
    } catch (error) {
      // Broken off, or erased meanwhile: there is nothing to tell.
      signal.throwIfAborted();
      log.warn({ err: error, recordingId }, "a film cannot be made");
      const full = error instanceof StorageFull;
      const gone = error instanceof MissingObject;
      const why = full ? "There is no room for it on the server." : gone ? "A part of it is not there any more." : null;
      await db.rows(FAIL_FILM, [wanted.id, why ?? "It could not be made. Try it again."]);
    }
  }

  async #make(recordingId: string, wanted: Wanted, work: Work): Promise<void> {
    const begun = Date.now();
    const material = await this.#material(recordingId, wanted);
    if (!material) return this.queue.later(recordingId);
    const plain = plainPictures(material);
    const parts = plain ? [] : partsOf(material);
    const drawn = await this.#draw(recordingId, wanted.id, parts, { work, until: begun + GO_MS });
    if (drawn === "cancelled") return;
    if (drawn === "later" || Date.now() - begun > EARLY_MS) return this.queue.again(recordingId);

    const { playable, runs } = material;
    const { durationUs: length, frame } = playable;
    const { opening, closing } = playable.dress.cards;
    // A voice alone has no place for a card.
    const [before, after] = frame ? [opening?.stays ?? 0, closing?.stays ?? 0] : [0, 0];
    const sound = join(work.dir, "sound.mp4");
    const copied = plainSound(material);
    if (copied) await writeRuns(work.storage, copied, sound, work.signal);
    else if (isHeard(playable)) await writeSound({ ...playable, length, before, after, runs }, work, sound);

    const { ending } = frame ? KINDS.picture : KINDS.sound;
    const output = join(work.dir, `film.${ending}`);
    const { captions, chapters } = await this.parts.library.details(recordingId);
    const { title, sender: artist } = wanted;
    const film = {
      pictures: plain ? [await asRecorded(plain, work)] : await fetched(drawn, work),
      sound: isHeard(playable) ? sound : null,
      captions: captions.map((cue) => ({ ...cue, from: cue.from + before, to: cue.to + before })),
      chapters: chapters.map((chapter) => ({ ...chapter, at: chapter.at + before })),
      tags: { title, artist },
      length: before + length + after,
    };
    await writeFilm(film, work.dir, output, work.signal);
    await this.#keep(recordingId, wanted, output, ending);
  }

  /** Draws the parts that are not there yet, as far as there is time. @returns the keys of all, in order */
  async #draw(
    recordingId: string,
    filmId: string,
    parts: readonly Part[],
    { work, until }: { work: Work; until: number },
  ): Promise<string[] | "later" | "cancelled"> {
    const { db, storage } = this.parts;
    const all = parts.reduce((sum, { pictures }) => sum + pictures, 0);
    const there = new Set<string>();
    for await (const { key } of storage.list(partsFolder(recordingId))) there.add(key);
    const keys: string[] = [];
    let done = 0;
    for (const part of parts) {
      const key = `${partsFolder(recordingId)}/${part.digest()}.mp4`;
      keys.push(key);
      if (!there.has(key)) {
        if (Date.now() > until) return "later";
        work.signal.throwIfAborted();
        await inFolder(async (dir) => {
          const output = join(dir, "part.mp4");
          await part.draw({ ...work, dir }, output);
          work.signal.throwIfAborted();
          await storage.putFile(key, output);
        });
        there.add(key);
      }
      done += part.pictures;
      const waited = await db.rows(NOTE_FILM_PROGRESS, [filmId, done, Math.ceil(all * (1 + SOUND_SHARE))]);
      if (waited.length === 0) return "cancelled";
    }
    return keys;
  }

  async #keep(recordingId: string, { id, revision, words }: Wanted, output: string, ending: string): Promise<void> {
    const { db, storage } = this.parts;
    const key = `${filmFolder(recordingId)}/${id}.${ending}`;
    const { size } = await stat(output);
    await storage.putFile(key, output);
    const [kept] = await db.rows(KEEP_FILM, [id, recordingId, key, size, revision, words]);
    if (kept) return storage.removeAll(partsFolder(recordingId));
    await storage.remove(key);
    // Something else was published meanwhile, and that is waited for now.
    await this.queue.later(recordingId);
  }

  /** What it is made of; null where something else is published by now, or nothing can be played. */
  async #material(recordingId: string, { token, revision, revisionId }: Wanted): Promise<Material | null> {
    const { db, playback } = this.parts;
    const [playable, rows] = await Promise.all([
      playback.playable(recordingId, token),
      db.rows<Run>(RUNS, [revisionId]),
    ]);
    if (playable?.revision !== revision) return null;
    const runs = new Map<string, Run[]>();
    for (const run of rows) runs.set(run.name, [...(runs.get(run.name) ?? []), run]);
    return { playable, runs, pictures: await this.#putOn(recordingId, playable) };
  }

  /** The pictures that are put on it, as every program reads them. */
  async #putOn(recordingId: string, { marks }: Playable): Promise<PutOn> {
    const pictures = new Map<string, Buffer>();
    for (const { mark } of marks) {
      if (mark.tool !== "picture" || pictures.has(mark.text)) continue;
      const bytes = await this.parts.pictures.shown(recordingId, mark.text);
      if (bytes) pictures.set(mark.text, await sharp(bytes).png().toBuffer());
    }
    return pictures;
  }

  async #row(recordingId: string): Promise<FilmRow | undefined> {
    const [row] = await this.parts.db.rows<FilmRow>(FILM, [recordingId]);
    return row;
  }
}

/** The pictures as they were recorded, in one file. */
async function asRecorded(runs: readonly MovedRun[], { storage, dir, signal }: Work): Promise<string> {
  const file = join(dir, "pictures.mp4");
  await writeRuns(storage, runs, file, signal);
  return file;
}

/** What is stored, as files. */
async function fetched(keys: readonly string[], { storage, dir, signal }: Work): Promise<string[]> {
  const files: string[] = [];
  for (const key of keys) {
    signal.throwIfAborted();
    const file = join(dir, `part-${files.length}.mp4`);
    await writeFile(file, await storage.read(key));
    files.push(file);
  }
  return files;
}

/** What is kept of the film of a recording. */
export const filmFolder = (recordingId: string) => `films/${recordingId}`;
const partsFolder = (recordingId: string) => `${filmFolder(recordingId)}/parts`;
