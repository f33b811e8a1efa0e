import type { IncomingMessage, ServerResponse } from "node:http";
import { create as contentDisposition } from "content-disposition";
import type { Subject } from "#core/access/access";
import type { AccessFacts } from "../access/facts";
import type { Database } from "../database/connection";
import { fileName } from "../http/file-name";
import { Problem } from "../http/problem";
import { sendStored } from "../http/send";
import type { Storage } from "../storage/storage";
import type { Films } from "./films";

const FILM = /^\/w\/([\w-]+)\/film$/;

/** Is this address for the handler, rather than for a page? */
export const isFilmPath = (path: string) => FILM.test(path);

interface Parts {
  films: Films;
  storage: Storage;
  db: Database;
}

/** `GET /w/<token>/film`: the recording as one file, for a person who may have it. */
export function filmHandler(parts: Parts & { access: AccessFacts }) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, subject: Subject): Promise<void> => {
    if (req.method !== "GET" && req.method !== "HEAD")
      throw new Problem(405, "wrong-method", "This address takes GET.");
    const { id } = await parts.access.require(subject, "download", FILM.exec(path)![1]!);
    await sendFilm(parts, req, res, id);
  };
}

/** Sends the file of a recording. Who may have it is checked by the callers. @throws {Problem} 404 for none */
export async function sendFilm({ films, storage, db }: Parts, req: IncomingMessage, res: ServerResponse, id: string) {
  const { key, size, type, ending } = await films.file(id);
  const recording = await db.models.Recording.findByPk(id, { attributes: ["title"] });
  res.setHeader("content-disposition", contentDisposition(`${fileName(recording?.title ?? "")}.${ending}`));
  await sendStored(req, res, {
    ...{ size, type, etag: `"${key.slice(key.lastIndexOf("/") + 1)}"`, cacheControl: "private, no-cache" },
    read: (part) => storage.read(key, part),
  });
}
