import type { IncomingMessage, ServerResponse } from "node:http";
import { isPublic, type Subject } from "#core/access/access";
import { retime } from "#core/media/retime";
import type { AccessFacts } from "../access/facts";
import { Problem } from "../http/problem";
import { NEVER_CHANGES, sendBytes } from "../http/send";
import type { Playback } from "./playback";
import { posterFile } from "./poster-file";
import type { Database } from "../database/connection";

const FILE = String.raw`(?:([\w-]+)\.m3u8|([\w-]+)\/([\w.-]+))`;
const WATCHED = new RegExp(String.raw`^\/w\/([\w-]+)\/(?:poster\.jpg|growth|r([1-9]\d{0,5})\/${FILE})$`);
const RECORDED = new RegExp(String.raw`^\/recordings\/([\da-f-]{36})\/(recorded)\/${FILE}$`);

/** Is this address for the handler, rather than for a page? */
export const isMediaPath = (path: string) => WATCHED.test(path) || RECORDED.test(path);

/**
 * `GET /w/<token>/r<revision>/<playlist>.m3u8`, `…/<track>/<file>`, `/w/<token>/poster.jpg`: every answer, every byte
 * of it, is for a person who may watch. `/recordings/<id>/recorded/…`: the same of all that was recorded, for a person
 * who may change what is shown of it. `GET /w/<token>/growth`: whether a page shows it as it is.
 */
export function mediaHandler(parts: { playback: Playback; access: AccessFacts; db: Database }) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, subject: Subject): Promise<void> => {
    const match = WATCHED.exec(path) ?? RECORDED.exec(path);
    if (!match || (req.method !== "GET" && req.method !== "HEAD"))
      throw new Problem(405, "wrong-method", "This address takes GET.");
    const [, of, revision, playlist, track, name] = match;
    const recorded = revision === "recorded";
    const recording = await (recorded
      ? parts.access.requireById(subject, "change", of!)
      : parts.access.require(subject, "watch", of!));
    if (path.endsWith("/growth")) {
      const growth = await parts.playback.growth(recording.id);
      res.writeHead(200, { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" });
      return void res.end(req.method === "HEAD" ? undefined : growth);
    }
    const which = recorded ? "recorded" : Number(revision);
    if (playlist) {
      const text = await parts.playback.playlist(recording.id, which, playlist);
      res.writeHead(200, {
        "content-type": "application/vnd.apple.mpegurl",
        "content-length": Buffer.byteLength(text),
        "cache-control": "no-cache",
      });
      return void res.end(req.method === "HEAD" ? undefined : text);
    }
    const file = revision
      ? await parts.playback.file(recording.id, which, track!, name!)
      : await posterFile(parts.db, recording.id);
    const bytes = await parts.playback.bytes(file.key);
    // A preview on a page of another site shows the poster of what anybody may see.
    if (!revision && isPublic(recording)) res.setHeader("cross-origin-resource-policy", "cross-origin");
    // A poster may be made again under the same address, and so may what was recorded; segments are written once.
    sendBytes(req, res, {
      ...file,
      bytes: file.shift === 0 ? bytes : Buffer.from(retime(bytes, file.shift).buffer),
      cacheControl: revision && !recorded ? NEVER_CHANGES : "private, no-cache",
    });
  };
}
