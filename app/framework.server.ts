import { randomBytes } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";
import { writeReadableStreamToWritable } from "@react-router/node";
import { createRequestHandler, RouterContextProvider, type ServerBuild } from "react-router";
import { readBody, type BodyLimits } from "#server/http/body";
import { PICTURE_BYTES } from "#server/pictures/safe-picture";
import { readCookie } from "#server/http/cookies";
import { Problem } from "#server/http/problem";
import type { Runtime } from "#server/runtime";
import { isPublic, type Subject } from "#core/access/access";
import { appContext } from "./services/context.server";
import { SamePages, type WholePage } from "./services/same-pages.server";
import {
  COMPUTER_COOKIE,
  EMBED_PASSES_COOKIE,
  GUEST_COOKIE,
  PASSES_COOKIE,
  SESSION_COOKIE,
} from "./services/session.server";
import { keyOfEmbed, subjectOfEmbed, subjectOfRequest } from "./services/subject.server";

const KILO = 1024;
/** A form is small and comes at once. */
const FORM: BodyLimits = { most: 16 * KILO, withinMs: 15_000 };
/** Of whoever is signed in: as many letters as fields take, in a script of which each takes nine bytes in a form. */
const OWN_FORM: BodyLimits = { most: 64 * KILO, withinMs: 15_000 };
/** What needs more: the path as the router's own requests name it too, and whether one has to be signed in for it. */
const LARGER: { path: RegExp; signedIn: boolean; limits: BodyLimits }[] = [
  { path: /^\/recordings\/[^/]+$/, signedIn: true, limits: { most: 96 * KILO, withinMs: 15_000 } },
  // An edit with everything that was done.
  { path: /^\/recordings\/[^/]+\/draft$/, signedIn: true, limits: { most: 2048 * KILO, withinMs: 30_000 } },
  // A picture for it.
  { path: /^\/recordings\/[^/]+\/pictures\/[^/]+$/, signedIn: true, limits: { most: PICTURE_BYTES, withinMs: 60_000 } },
  { path: /^\/(?:emblems|portraits)\/new$/, signedIn: true, limits: { most: PICTURE_BYTES, withinMs: 60_000 } },
  // Comments from a file.
  { path: /^\/figures\/[^/]+$/, signedIn: true, limits: { most: 4096 * KILO, withinMs: 60_000 } },
];

/**
 * Between Node's requests and React Router's. The whole of a body is read here, within its bounds, before any action
 * sees the request.
 */
export function createFramework(runtime: Runtime, build: ServerBuild | (() => Promise<ServerBuild>), dev: boolean) {
  const handle = createRequestHandler(build, dev ? "development" : "production");
  const same = new SamePages();
  return async (req: IncomingMessage, res: ServerResponse): Promise<void> => {
    const sessionToken = readCookie(req.headers.cookie, SESSION_COOKIE);
    const asStranger = isStrangersLook(req);
    const embedded = /^\/e\//.test(req.url ?? "");
    const member = asStranger || embedded ? null : await runtime.sessions.member(sessionToken);
    const cookieOf = (name: string) => readCookie(req.headers.cookie, name);
    const context = new RouterContextProvider();
    const subject = asStranger
      ? null
      : embedded
        ? subjectOfEmbed(runtime, req)
        : subjectOfRequest(runtime, req, member);
    const nonce = randomBytes(16).toString("base64");
    context.set(appContext, {
      runtime,
      sessionToken,
      dev,
      mails: runtime.settings.mailUrl !== null || runtime.settings.demo,
      member,
      embedded,
      subject,
      passesCookie: cookieOf(embedded ? EMBED_PASSES_COOKIE : PASSES_COOKIE),
      guestKey: asStranger ? null : embedded ? keyOfEmbed(req) : cookieOf(GUEST_COOKIE),
      computerCookie: cookieOf(COMPUTER_COOKIE),
      nonce,
      agent: req.headers["user-agent"] ?? "",
      address: runtime.addressOf(req),
    });
    const request = await toRequest(req, res, { member, address: runtime.addressOf(req) });
    const answer = () => handle(request, context);
    const isNobody = subject?.id === null && !subject.passes?.length && cookieOf(GUEST_COOKIE) === null;
    const link = isNobody ? linkOf(req) : null;
    const shared = link !== null && (await isOpenToAll(runtime, subject, link));
    await send(res, shared ? await same.answer(link, { nonce, gzip: takesGzip(req) }, answer) : await answer());
  };
}

const takesGzip = ({ headers }: IncomingMessage) => /\bgzip\b(?!;q=0)/.test(String(headers["accept-encoding"] ?? ""));

/** The token of a link whose page is asked for, with nothing that would make it another one. */
const linkOf = ({ method, url }: IncomingMessage): string | null =>
  (method === "GET" && /^\/w\/([\w-]+)$/.exec(url ?? "")?.[1]) || null;

/** Is what is behind a link the same for everybody whom nobody knows? Asked for each of them. */
async function isOpenToAll(runtime: Runtime, subject: Subject, token: string): Promise<boolean> {
  const { door, recording } = await runtime.access.find(subject, token);
  return door === "open" && recording !== null && isPublic(recording);
}

/**
 * Does somebody look at a page as a stranger would, who has no account, was named nowhere and knows no password? What
 * they see then is made for nobody, and says so at its top.
 */
const isStrangersLook = (req: IncomingMessage) =>
  req.method === "GET" && /^\/w\/[^?]*\?(?:.*&)?as=stranger(?:&|$)/.test(req.url ?? "");

/** What React Router answers. Other methods are no question that a page has an answer to (RFC 9110, 9.1). */
const METHODS = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"];

async function toRequest(
  req: IncomingMessage,
  res: ServerResponse,
  { member, address }: { member: { id: string } | null; address: string },
): Promise<Request> {
  if (!METHODS.includes(req.method!)) throw new Problem(405, "no-such-method", "This is not done here.");
  const url = urlOf(req);
  const left = new AbortController();
  res.once("close", () => left.abort());
  const headers = new Headers();
  for (const [name, value] of Object.entries(req.headers)) {
    for (const one of Array.isArray(value) ? value : [value]) if (one !== undefined) headers.append(name, one);
  }
  const body = hasBody(req)
    ? await readBody(req, limitsOf(url.pathname, member !== null), member?.id ?? address)
    : null;
  return new Request(url, { method: req.method, headers, signal: left.signal, body: body as BodyInit | null });
}

/** The address of a request. Only the usual form of a target is taken (RFC 9112, 3.2.1). @throws {Problem} 400 */
function urlOf(req: IncomingMessage): URL {
  const target = req.url ?? "";
  const base = `http://${req.headers.host}`;
  if (!target.startsWith("/") || !URL.canParse(base + target)) {
    throw new Problem(400, "bad-target", "This is no address of a page here.");
  }
  return new URL(base + target);
}

const hasBody = (req: IncomingMessage) => req.method !== "GET" && req.method !== "HEAD";

function limitsOf(pathname: string, signedIn: boolean): BodyLimits {
  const path = pathname.replace(/\.data$/, "");
  return LARGER.find((l) => l.path.test(path) && (signedIn || !l.signedIn))?.limits ?? (signedIn ? OWN_FORM : FORM);
}

async function send(res: ServerResponse, answer: Response | WholePage): Promise<void> {
  if (!(answer instanceof Response)) {
    for (const [name, value] of answer.headers) res.setHeader(name, value);
    return void res.end(answer.body);
  }
  if (res.destroyed || res.writableEnded) return void (await answer.body?.cancel());
  res.statusCode = answer.status;
  const cookies = answer.headers.getSetCookie();
  answer.headers.forEach((value, name) => name !== "set-cookie" && res.setHeader(name, value));
  // The data of a page is kept by nobody longer than the page.
  if (!res.hasHeader("cache-control")) res.setHeader("cache-control", "private, no-cache");
  if (cookies.length > 0) res.setHeader("set-cookie", cookies);
  if (!answer.body) return void res.end();
  try {
    await writeReadableStreamToWritable(answer.body, res);
  } catch (error) {
    // Whoever asked has left in the middle.
    if (!res.destroyed && !res.writableEnded) throw error;
  }
}
