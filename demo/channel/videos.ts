import { FileStore } from "@tus/file-store";
import type { Upload } from "@tus/server";
import { randomUUID } from "node:crypto";
import { mkdir, readFile, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import Joi from "joi";
import { SEEN_BY } from "../../core/places/kinds";
import { secondsOf } from "../../server/jobs/decoder";
import type { About } from "../../server/places/way";

export const aboutForm = Joi.object<About>({
  title: Joi.string().trim().max(500).required(),
  description: Joi.string().max(20_000).allow("").default(""),
  seenBy: Joi.string()
    .valid(...SEEN_BY)
    .required(),
}).options({ stripUnknown: true });

export interface Video extends About {
  id: string;
  /** the upload that is shown; null where none was worked on well */
  shown: string | null;
  /** the one that came last */
  last: string;
  type: string;
  state: "working" | "ready" | "failed";
  problem: string | null;
  at: string;
}

export const MOST_VIDEOS = 100;
const UNFINISHED_MS = 24 * 3_600_000;

/** The videos of the sample channel, as files in a folder. */
export class Videos {
  readonly store: FileStore;
  #videos: Video[] = [];
  #written = Promise.resolve();
  readonly #ended = new AbortController();
  /** what the next one that is worked on is found to have wrong with it, as somebody wished */
  failNext = false;

  private constructor(
    private readonly dir: string,
    private readonly worksMs: number,
  ) {
    this.store = new FileStore({ directory: join(dir, "uploads") });
  }

  /** @param worksMs how long a video is worked on before it can be watched */
  static async open(dir: string, worksMs: number): Promise<Videos> {
    await mkdir(join(dir, "uploads"), { recursive: true });
    const videos = new Videos(dir, worksMs);
    const kept = await readFile(videos.#list, "utf8").catch((error: NodeJS.ErrnoException) => {
      if (error.code === "ENOENT") return "[]";
      throw error;
    });
    videos.#videos = JSON.parse(kept) as Video[];
    await videos.#sweep();
    for (const video of videos.#videos) if (video.state === "working") videos.#workOn(video);
    return videos;
  }

  /** What is worked on is worked on anew after the next start. */
  async close(): Promise<void> {
    this.#ended.abort();
    await this.#written;
  }

  get all(): readonly Video[] {
    return this.#videos;
  }

  /** By its own name, or by that of the upload that came last. */
  find(id: string): Video | null {
    return this.#videos.find((video) => video.id === id || video.last === id) ?? null;
  }

  file(upload: string): string {
    return join(this.dir, "uploads", upload);
  }

  /** All of an upload is here: a video comes of it, or another file of a video. */
  async take({ id, metadata }: Upload, about: About, replaces: Video | null): Promise<void> {
    const type = metadata?.filetype ?? "video/mp4";
    const what = { last: id, type, state: "working" as const, problem: null };
    const video: Video = replaces ?? {
      ...{ ...about, ...what, id, shown: null, at: new Date().toISOString() },
    };
    // One that did not work, and was never shown, is not kept beside it.
    const before = replaces && replaces.last !== replaces.shown ? replaces.last : null;
    if (replaces) Object.assign(replaces, what);
    else this.#videos.unshift(video);
    await this.#write();
    this.#workOn(video);
    if (before !== null) await this.#forget(before);
  }

  async change(video: Video, about: About): Promise<void> {
    Object.assign(video, about);
    await this.#write();
  }

  async drop(video: Video): Promise<void> {
    this.#videos = this.#videos.filter((one) => one !== video);
    await this.#write();
    for (const upload of new Set([video.shown, video.last])) if (upload !== null) await this.#forget(upload);
  }

  get #list() {
    return join(this.dir, "videos.json");
  }

  #workOn(video: Video): void {
    const upload = video.last;
    const signal = this.#ended.signal;
    void (async () => {
      await delay(this.worksMs, undefined, { signal });
      const problem = await this.#problemOf(upload, signal);
      // Taken away, or replaced, meanwhile.
      if (!this.#videos.includes(video) || video.last !== upload) return;
      const over = problem === null ? video.shown : upload;
      Object.assign(video, problem === null ? { state: "ready", shown: upload } : { state: "failed", problem });
      await this.#write();
      if (over !== null && over !== upload) await this.#forget(over);
    })().catch((error: unknown) => {
      if (signal.aborted) return;
      Object.assign(video, { state: "failed", problem: `It could not be worked on: ${String(error)}` });
    });
  }

  /** Wrong with it is that somebody wished so, or that it is no film. */
  async #problemOf(upload: string, signal: AbortSignal): Promise<string | null> {
    if (this.failNext) {
      this.failNext = false;
      return "This one fails on purpose. Try it again.";
    }
    const seconds = await secondsOf(this.file(upload), signal).catch(() => NaN);
    return seconds > 0 ? null : "This is no film.";
  }

  async #forget(upload: string): Promise<void> {
    await this.store.remove(upload).catch((error: { status_code?: number }) => {
      if (error.status_code !== 404) throw error;
    });
  }

  /** What was begun and left is forgotten after a day. */
  async #sweep(): Promise<void> {
    for (const id of (await this.store.configstore.list?.()) ?? []) {
      const upload = await this.store.getUpload(id).catch(() => null);
      if (!upload || this.find(id) || upload.offset === upload.size) continue;
      if (Date.now() - Date.parse(upload.creation_date ?? "") > UNFINISHED_MS) await this.#forget(id);
    }
  }

  /** One after the other, each whole. */
  #write(): Promise<void> {
    const written = this.#written.then(async () => {
      const coming = `${this.#list}.${randomUUID()}`;
      await writeFile(coming, JSON.stringify(this.#videos));
      await rename(coming, this.#list);
    });
    this.#written = written.catch(() => undefined);
    return written;
  }
}
