import type { IncomingMessage, ServerResponse } from "node:http";
import { retime } from "#core/media/retime";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { Problem } from "../http/problem";
import { NEVER_CHANGES, sendBytes } from "../http/send";
import type { Playback } from "./playback";
import { posterFile } from "./poster-file";
import type { Database } from "../database/connection";

const PATTERN = /^\/w\/([\w-]+)\/(?:poster\.jpg|r(\d{1,6})\/(?:([\w-]+)\.m3u8|([\w-]+)\/([\w.-]+)))$/;

/** Is this address for the handler, rather than for a page? */
export const isMediaPath = (path: string) => PATTERN.test(path);

/**
 * `GET /w/<token>/r<revision>/<playlist>.m3u8`, `…/<track>/<file>`, `/w/<token>/poster.jpg`.
 * Every answer, every byte of it, is for a person who may watch.
 */
export function mediaHandler(parts: { playback: Playback; access: AccessFacts; db: Database }) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, member: SignedIn | null): Promise<void> => {
    const match = PATTERN.exec(path);
    if (!match || (req.method !== "GET" && req.method !== "HEAD"))
      throw new Problem(405, "wrong-method", "This address takes GET.");
    const [, token, revision, playlist, track, name] = match;
    const recording = await parts.access.require(member, "watch", token!);
    if (playlist) {
      const text = await parts.playback.playlist(recording.id, Number(revision), playlist);
      res.writeHead(200, {
        "content-type": "application/vnd.apple.mpegurl",
        "content-length": Buffer.byteLength(text),
        "cache-control": "no-cache",
      });
      return void res.end(req.method === "HEAD" ? undefined : text);
    }
    const file = revision
      ? await parts.playback.file(recording.id, Number(revision), track!, name!)
      : await posterFile(parts.db, recording.id);
    const bytes = await parts.playback.bytes(file.key);
    // A poster may be made again under the same address; segments are written once.
    sendBytes(req, res, {
      ...file,
      bytes: file.shift === 0 ? bytes : Buffer.from(retime(bytes, file.shift).buffer),
      cacheControl: revision ? NEVER_CHANGES : "private, no-cache",
    });
  };
}
