import type { IncomingMessage, ServerResponse } from "node:http";
import type Joi from "joi";
import type { KnownRecording } from "../access/facts";
import { readBody, type BodyLimits } from "../http/body";
import { Problem } from "../http/problem";
import { sendJson } from "../http/send";
import type { Runtime } from "../runtime";
import type { Report } from "../viewing/spans";
import { askedCommentsForm, type AskedComments } from "./comment-pages";
import { sayForm, spansForm, visitForm } from "./forms";
import type { Said } from "./sayings";
import { subjectOf, type Visit, type Who } from "./viewers";

const PATTERN = /^\/[we]\/([\w-]+)\/(visit|say|spans|comments)$/;
type Door = "visit" | "say" | "spans" | "comments";

const KILO = 1024;
const BODIES: Record<Exclude<Door, "comments">, BodyLimits> = {
  visit: { most: 16 * KILO, withinMs: 15_000 },
  say: { most: 16 * KILO, withinMs: 15_000 },
  spans: { most: 64 * KILO, withinMs: 15_000 },
};

/** Who comes to one of these doors, and how their browser is told what it shall keep. */
export interface AnsweringWho extends Who {
  /** asked in a page of another site? */
  embedded: boolean;
  /** the cookie by which a new guest is known again */
  cookieOf: (key: string) => string;
}

type Parts = Pick<Runtime, "access" | "viewers" | "sayings" | "spans" | "asks" | "limits" | "commentPages">;

export const isAnswersPath = (path: string) => PATTERN.test(path);

/**
 * What the page of a link sends and asks for while it is open, JSON in and out. A class does all of it at one moment,
 * so nothing stands between it and the socket.
 * `POST …/visit`: the page was opened in a browser that runs it.
 * `POST …/say`: a comment, a reaction, an answer, a name.
 * `POST …/spans`: what was played; by beacon too, when the page is left.
 * `GET …/comments`: more than the page came with.
 */
export function answersHandler(parts: Parts) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, who: AnsweringWho): Promise<void> => {
    const [, token, door] = PATTERN.exec(path) as unknown as [string, string, Door];
    const method = door === "comments" ? "GET" : "POST";
    if (req.method !== method) throw new Problem(405, "wrong-method", `This address takes ${method}.`);
    sendJson(res, 200, await answer(parts, req, res, { token, door, who }));
  };
}

async function answer(
  parts: Parts,
  req: IncomingMessage,
  res: ServerResponse,
  { token, door, who }: { token: string; door: Door; who: AnsweringWho },
): Promise<object> {
  if (door === "comments") {
    const asked = checked<AskedComments>(
      askedCommentsForm,
      Object.fromEntries(new URL(req.url!, "http://x").searchParams),
    );
    const recording = await parts.access.require(subjectOf(who), "watch", token);
    await parts.limits.take("moreComments", {
      viewer: who.member?.id ?? who.guestKey ?? who.address,
      address: who.address,
    });
    return parts.commentPages.more(recording.id, asked);
  }
  const body = readJson(await readBody(req, BODIES[door], who.address));
  const given = checked<unknown>({ visit: visitForm, say: sayForm, spans: spansForm }[door], body);
  const recording = await parts.access.require(subjectOf(who), "answer", token);
  if (door === "say") return parts.sayings.say(recording, who, given as Said);
  if (door === "spans") return watched(parts, recording, who, given as Report);
  return visited(parts, { req, res, recording, who }, given as Visit);
}

async function watched({ viewers, limits, spans }: Parts, recording: KnownRecording, who: Who, report: Report) {
  const viewer = await viewers.find(recording, who);
  if (!viewer) throw new Problem(409, "not-opened", "Open the recording's page in this browser first.");
  await limits.take("spans", { viewer: viewer.id, address: who.address }, 1 + report.spans.length);
  await spans.take(recording.id, viewer, report);
  return {};
}

/** Do Not Track and Global Privacy Control are obeyed: counted, not named. */
async function visited(
  { viewers, limits, asks }: Parts,
  {
    req,
    res,
    recording,
    who,
  }: {
    req: IncomingMessage;
    res: ServerResponse;
    recording: KnownRecording;
    who: AnsweringWho;
  },
  visit: Visit,
) {
  const asksNotToBe = req.headers["sec-gpc"] === "1" || req.headers.dnt === "1";
  const { address, member } = who;
  const known = member?.id ?? (await viewers.find(recording, who))?.id;
  await limits.take(known ? "visit" : "newcomer", { viewer: known ?? address, address });
  const { viewer, newKey } = await viewers.visit(recording, who, { ...visit, named: visit.named && !asksNotToBe });
  const { id, name, named, isSender, isMember, needsName, mayComment } = viewer;
  const me = { id, name, named, isSender, isMember, needsName, mayComment };
  if (newKey !== null) res.setHeader("set-cookie", who.cookieOf(newKey));
  if (!who.embedded) return { me };
  // Where an embed's cookie is not taken, it says itself who it is, and learns what it has answered with that.
  return { me, answer: await asks.answerOf(recording.id, id), ...(newKey !== null && { key: newKey }) };
}

function readJson(body: Buffer): unknown {
  try {
    return JSON.parse(body.toString());
  } catch {
    throw new Problem(400, "not-json", "The body is not JSON.");
  }
}

function checked<T>(schema: Joi.Schema, given: unknown): T {
  const { value, error } = schema.validate(given, { stripUnknown: true });
  if (error) throw new Problem(422, "not-valid", error.message);
  return value as T;
}
