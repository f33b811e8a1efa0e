import type { IncomingMessage, ServerResponse } from "node:http";
import type Joi from "joi";
import { may } from "#core/access/access";
import { kindOf, MOST_OF_A_KIND, SEGMENT_MAX_BYTES, TRACK_KINDS, type TrackName } from "#core/media/tracks";
import type { Entry } from "#core/layout/entry";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { DeedLimits } from "../deed-limits";
import { readBody } from "../http/body";
import type { Database } from "../database/connection";
import { isUuid } from "../http/fields";
import { Problem } from "../http/problem";
import { sendJson } from "../http/send";
import { entriesForm, putEntries } from "../recordings/entries";
import { finishForm, noteForm, type Takes } from "../recordings/takes";
import { checkDigest, readContentDigest } from "./digest";
import type { Ingest } from "./ingest";

/** Written one way only: `1e3` and `1.0` are no numbers of segments. */
const part = /^(?:init|[1-9]\d{0,4})$/;
const LAST_NUMBER = 50_000;

interface IngestParts {
  ingest: Ingest;
  takes: Takes;
  access: AccessFacts;
  db: Database;
  limits: DeedLimits;
  addressOf: (req: IncomingMessage) => string;
}

/** The most that is sent to try how fast a connection is. */
const TRIAL_MAX_BYTES = 1024 * 1024;

/**
 * `PUT  /ingest/trial`                    as fast as it comes: tries the connection, and is not kept
 * `PUT  /ingest/<take>/<track>/init`      the init segment of a track
 * `PUT  /ingest/<take>/<track>/<number>`  a media segment
 * `PUT  /ingest/<take>/note`              the recorder lives, or is paused
 * `PUT  /ingest/<take>/entries`           what happened in the take
 * `PUT  /ingest/<take>/finish`            the recorder has stopped
 * `GET  /ingest/<take>`                   what is here
 * `DELETE /ingest/<take>`                 throw the take away
 */
export function ingestHandler(parts: IngestParts) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, member: SignedIn | null): Promise<void> => {
    const [, , takeId, what = "", partText] = path.split("/");
    if (!isUuid(takeId) && takeId !== "trial") throw notHere();
    if (!member)
      throw new Problem(
        401,
        "signed-out",
        "You are signed out. Sign in, and what is kept on this computer will be sent.",
      );
    if (takeId === "trial") {
      if (req.method !== "PUT" || what !== "") throw new Problem(405, "wrong-method", "This address takes PUT.");
      await parts.limits.take("trial", { viewer: member.id, address: parts.addressOf(req) });
      const { length } = await readBody(req, { most: TRIAL_MAX_BYTES, withinMs: 30_000 }, member.id);
      return sendJson(res, 200, { bytes: length });
    }
    const recording = await parts.access.byTake(takeId!);
    // Somebody else's take and a take that never was look the same.
    if (!recording || !may(member, "feed", recording, Date.now()))
      throw new Problem(404, "no-such-take", "There is no such take of yours.");

    if (what === "") {
      if (req.method === "GET")
        return sendJson(res, 200, { ...(await parts.takes.state(takeId!)), stored: await parts.takes.stored(takeId!) });
      if (req.method === "DELETE") {
        await parts.takes.discard(takeId!);
        return sendJson(res, 200, { state: "deleted" });
      }
    }
    if (req.method !== "PUT") throw new Problem(405, "wrong-method", "This address takes PUT.");
    if (what === "note") {
      await parts.takes.note(takeId!, await readJson(req, noteForm, member.id));
      return sendJson(res, 200, {});
    }
    if (what === "entries") {
      const { entries } = await readJson<{ entries: Entry[] }>(req, entriesForm, member.id);
      await putEntries(parts.db, takeId!, entries);
      return sendJson(res, 200, {});
    }
    if (what === "finish")
      return sendJson(res, 200, await parts.takes.finish(takeId!, await readJson(req, finishForm, member.id)));

    if (kindOf(what) === null)
      throw new Problem(
        404,
        "unknown-track",
        `No track is called ${JSON.stringify(what.slice(0, 60))}: ${TRACK_KINDS.join(", ")}, or one of them with -2 to -${MOST_OF_A_KIND}.`,
      );
    const name = what as TrackName;
    const number = partText === "init" ? 0 : Number(partText);
    if (!part.test(partText ?? "") || number > LAST_NUMBER) throw notHere();
    const announced = readContentDigest(req.headers["content-digest"]);
    const body = await readBody(req, { most: SEGMENT_MAX_BYTES, withinMs: 4 * 60_000 }, member.id);
    const digest = await checkDigest(body, announced);
    const result =
      number === 0
        ? await parts.ingest.putInit(takeId!, name, body, digest)
        : await parts.ingest.putSegment(takeId!, name, number, body, digest);
    sendJson(res, result === "created" ? 201 : 200, { result });
  };
}

async function readJson<T>(req: IncomingMessage, schema: Joi.ObjectSchema, one: string): Promise<T> {
  const text = (await readBody(req, { most: 1024 * 1024, withinMs: 30_000 }, one)).toString("utf8");
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch {
    throw new Problem(400, "not-json", "The body is not JSON.");
  }
  const { value, error } = schema.validate(parsed);
  if (error) throw new Problem(422, "not-valid", error.message);
  return value as T;
}

const notHere = () => new Problem(404, "not-found", "There is nothing at this address.");
