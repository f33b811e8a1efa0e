import { randomUUID } from "node:crypto";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import compression from "compression";
import express, { type RequestHandler } from "express";
import type { ServerBuild } from "react-router";
import sirv from "sirv";
import { isConnectionLost } from "#server/database/lost";
import { isOurHost } from "#server/http/address";
import { readCookie } from "#server/http/cookies";
import { setSecurityHeaders, SPEECH_POLICY, VISION_POLICY, WORKER_POLICY } from "#server/http/headers";
import { checkOrigin } from "#server/http/origin";
import { Problem } from "#server/http/problem";
import { sendProblem } from "#server/http/send";
import { withoutSecrets } from "#server/log";
import { answersHandler, isAnswersPath } from "#server/answers/handler";
import { apiHandler, isApiPath } from "#server/api/handler";
import { ingestHandler } from "#server/ingest/handler";
import { eventsHandler, isEventsPath } from "#server/live/handler";
import { filmHandler, isFilmPath } from "#server/films/handler";
import { isMediaPath, mediaHandler } from "#server/playback/handler";
import type { RequestKind } from "#server/metrics";
import type { Runtime } from "#server/runtime";
import { createFramework } from "./framework.server";
import { answerHealth } from "./health.server";
import { keyOfEmbed, subjectOfEmbed, subjectOfRequest } from "./services/subject.server";
import { GUEST_COOKIE, guestCookie, SESSION_COOKIE } from "./services/session.server";

const HOUR_SECONDS = 3600;
const YEAR_SECONDS = 365 * 24 * HOUR_SECONDS;
const HEADERS_MS = 15_000;
/** The longest a request may take to arrive: 16 MiB over a slow line. Forms have bounds of their own. */
const REQUEST_MS = 5 * 60_000;
/** Connections that a process keeps at once; each open page of a recording is one. */
const MOST_CONNECTIONS = 10_000;

export interface Pages {
  build: ServerBuild | (() => Promise<ServerBuild>);
  /** where the built client files are; null in development, where `dev` serves them */
  assets: string | null;
  dev: RequestHandler | null;
}

/**
 * The one HTTP server. Segments, media bytes, event streams and health go through plain handlers, with no framework
 * between them and the socket; everything else is React Router's.
 */
export function createHttpServer(runtime: Runtime, pages: Pages): Server {
  const ingest = ingestHandler(runtime);
  const media = mediaHandler(runtime);
  const film = filmHandler(runtime);
  const events = eventsHandler(runtime);
  const answers = answersHandler(runtime);
  const api = apiHandler(runtime);
  const page = createPages(runtime, pages);
  const { publicUrl } = runtime.settings;

  type Handler = (req: IncomingMessage, res: ServerResponse, path: string) => Promise<void>;
  /** What has a handler of its own; all else is a page. */
  const handlers: Partial<Record<RequestKind, Handler>> = {
    ingest: async (req, res, path) => ingest(req, res, path, await memberOf(req)),
    api,
    media: async (req, res, path) => media(req, res, path, subjectOfRequest(runtime, req, await memberOf(req))),
    film: async (req, res, path) => film(req, res, path, subjectOfRequest(runtime, req, await memberOf(req))),
    answers: async (req, res, path) => answers(req, res, path, await answeringOf(req)),
    events: async (req, res, path) => events(req, res, path, await listenerOf(req)),
  };

  const server = createServer(
    { connectionsCheckingInterval: 5_000, headersTimeout: HEADERS_MS, requestTimeout: REQUEST_MS },
    async (req, res) => {
      const id = randomUUID();
      const path = pathOf(req);
      const kind = kindOfPath(path);
      res.setHeader("request-id", id);
      noteWhenDone(runtime, req, res, { id, kind });
      // A socket that breaks while it is written to is nobody's fault and no reason to end the process.
      res.on("error", () => res.destroy());
      setSecurityHeaders(res, {
        https: publicUrl.startsWith("https:"),
        embed: req.method === "GET" && /^\/e\/[\w-]+$/.test(path),
      });
      try {
        if (await answerHealth(runtime, req, res)) return;
        // Answered only by the names that we have: another name is another site's trick (DNS rebinding).
        if (!isOurHost(req.headers.host, publicUrl)) {
          throw new Problem(421, "wrong-host", "This server does not answer to that name.");
        }
        checkOrigin(req, publicUrl);
        // Nothing waits for a database that is gone: whoever asks comes back, and a recorder keeps what it has.
        if (!runtime.db.reachable) throw recovering();
        await (handlers[kind] ?? page)(req, res, path);
      } catch (error) {
        fail(runtime, req, res, { id, kind, error });
      }
    },
  );
  server.maxConnections = MOST_CONNECTIONS;
  // Longer than proxies and clients keep a connection, so that none is closed under a request that is just being sent.
  server.keepAliveTimeout = 65_000;
  return server;

  function memberOf(req: IncomingMessage) {
    return runtime.sessions.member(readCookie(req.headers.cookie, SESSION_COOKIE));
  }

  /** In an embed nobody is signed in, whatever the browser has elsewhere. */
  async function answeringOf(req: IncomingMessage) {
    const embedded = pathOf(req).startsWith("/e/");
    const member = embedded ? null : await memberOf(req);
    return {
      member,
      embedded,
      subject: embedded ? subjectOfEmbed(runtime, req) : subjectOfRequest(runtime, req, member),
      guestKey: embedded ? keyOfEmbed(req) : readCookie(req.headers.cookie, GUEST_COOKIE),
      address: runtime.addressOf(req),
      cookieOf: (key: string) => guestCookie({ embedded, runtime }, key),
    };
  }

  async function listenerOf(req: IncomingMessage) {
    const token = readCookie(req.headers.cookie, SESSION_COOKIE);
    const member = await runtime.sessions.member(token);
    return {
      member,
      subject: subjectOfRequest(runtime, req, member),
      guestKey: readCookie(req.headers.cookie, GUEST_COOKIE),
      session: token && runtime.sessions.idOf(token),
      address: runtime.addressOf(req),
    };
  }
}

/** Built files, then React Router. */
function createPages(runtime: Runtime, { build, assets, dev }: Pages) {
  const app = express().disable("x-powered-by");
  if (dev) app.use(dev);
  if (assets) {
    const compressed = { brotli: true, gzip: true, etag: true };
    const setHeaders = (res: ServerResponse, path: string) => {
      if (/^\/engine\.worker-[^/]*\.js/.test(path)) res.setHeader("content-security-policy", WORKER_POLICY);
      if (/^\/(?:lens|face)\.worker-[^/]*\.js/.test(path)) res.setHeader("content-security-policy", VISION_POLICY);
      if (/^\/speech\.worker-[^/]*\.js/.test(path)) res.setHeader("content-security-policy", SPEECH_POLICY);
    };
    app.use("/assets", sirv(`${assets}/assets`, { ...compressed, setHeaders, immutable: true, maxAge: YEAR_SECONDS }));
    app.use(sirv(assets, { ...compressed, maxAge: HOUR_SECONDS }));
  }
  app.use(compression());
  const framework = createFramework(runtime, build, dev !== null);
  return (req: IncomingMessage, res: ServerResponse): Promise<void> =>
    new Promise((done, failed) => {
      res.once("close", done);
      app(req as express.Request, res as express.Response, (error?: unknown) =>
        error ? failed(error) : framework(req, res).then(done, failed),
      );
    });
}

function fail(
  runtime: Runtime,
  req: IncomingMessage,
  res: ServerResponse,
  { id, kind, error }: Asked & { error: unknown },
) {
  if (error instanceof Problem) {
    if (kind === "ingest") runtime.metrics.partRefused(error.code);
    return sendProblem(req, res, error);
  }
  // A client that went away in the middle is no fault of ours. It is known by its socket: a database that is gone
  // has the same code.
  if (req.socket.destroyed || res.destroyed) return void res.destroy();
  if (isConnectionLost(error)) return sendProblem(req, res, recovering());
  runtime.log.error({ id, err: error, path: withoutSecrets(pathOf(req)) }, "request failed");
  sendProblem(
    req,
    res,
    new Problem(
      500,
      "server-error",
      "Something went wrong on the server. Nothing that was acknowledged is lost. Try again.",
    ),
  );
}

const recovering = () =>
  new Problem(503, "no-database", "The server is recovering. Nothing that was acknowledged is lost. Try again.", {
    retryAfter: 2,
  });

/** A request, by the id that its answer and the log have, and what answers it. */
interface Asked {
  id: string;
  kind: RequestKind;
}

/** What answers a path, as the metrics call it. */
function kindOfPath(path: string): RequestKind {
  if (path.startsWith("/ingest/")) return "ingest";
  if (isApiPath(path)) return "api";
  if (isMediaPath(path)) return "media";
  if (isFilmPath(path)) return "film";
  if (isAnswersPath(path)) return "answers";
  if (isEventsPath(path)) return "events";
  if (/^\/(?:healthz|readyz|metrics)$/.test(path)) return "health";
  return /\.(?:js|css|woff2|svg|png|ico|webmanifest|wasm|onnx|m4a)$/.test(path) ? "file" : "page";
}

/** What comes by the thousand is told where somebody looks for it. */
const IN_PASSING = new Set<RequestKind>(["ingest", "media", "file", "health"]);

/** One line for each request, with the id that its answer has (`Request-Id`), and never with what opens something. */
function noteWhenDone(runtime: Runtime, req: IncomingMessage, res: ServerResponse, { id, kind }: Asked) {
  const start = performance.now();
  res.once("close", () => {
    const ms = performance.now() - start;
    // A stream is open for as long as a page is.
    if (kind !== "events") runtime.metrics.request(kind, res.statusCode, ms / 1000);
    const line = {
      id,
      method: req.method,
      path: withoutSecrets(pathOf(req)),
      status: res.statusCode,
      ms: Math.round(ms * 10) / 10,
    };
    if (res.statusCode >= 500) runtime.log.warn(line, "request");
    else runtime.log[IN_PASSING.has(kind) ? "debug" : "info"](line, "request");
  });
}

const pathOf = (req: IncomingMessage) => (req.url ?? "/").split("?", 1)[0]!;
