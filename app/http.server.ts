import { randomBytes } from "node:crypto";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type RequestHandler } from "express";
import type { ServerBuild } from "react-router";
import sirv from "sirv";
import { readCookie } from "#server/http/cookies";
import { setSecurityHeaders } from "#server/http/headers";
import { checkOrigin } from "#server/http/origin";
import { Problem } from "#server/http/problem";
import { sendJson, sendProblem } from "#server/http/send";
import { ingestHandler } from "#server/ingest/handler";
import { eventsHandler, isEventsPath } from "#server/live/handler";
import { isMediaPath, mediaHandler } from "#server/playback/handler";
import type { Runtime } from "#server/runtime";
import { GUEST_COOKIE, SESSION_COOKIE } from "./services/session.server";

const HOUR_SECONDS = 3600;
const YEAR_SECONDS = 365 * 24 * HOUR_SECONDS;

export interface Pages {
  build: ServerBuild | (() => Promise<ServerBuild>);
  /** where the built client files are; null in development, where `dev` serves them */
  assets: string | null;
  dev: RequestHandler | null;
}

/**
 * The one HTTP server. Segments, media bytes and `/healthz` go through plain handlers, with no framework between them
 * and the
 * socket; everything else is React Router's.
 */
export function createHttpServer(runtime: Runtime, pages: Pages): Server {
  const ingest = ingestHandler(runtime);
  const media = mediaHandler(runtime);
  const events = eventsHandler(runtime);
  const framework = createFramework(runtime, pages);
  const https = runtime.settings.publicUrl.startsWith("https:");

  const server = createServer((req, res) => {
    logWhenDone(runtime, req, res);
    setSecurityHeaders(res, { https });
    const path = pathOf(req);
    if (path === "/healthz") return void health(runtime, req, res);
    if (path.startsWith("/ingest/"))
      return void plain(req, res, async () => ingest(req, res, path, await memberOf(req)));
    if (path.startsWith("/w/") && isMediaPath(path))
      return void plain(req, res, async () => media(req, res, path, await memberOf(req)));
    if (isEventsPath(path))
      return void plain(req, res, async () =>
        events(req, res, path, { member: await memberOf(req), guestKey: readCookie(req.headers.cookie, GUEST_COOKIE) }),
      );
    framework(req, res);
  });
  // Longer than proxies and clients keep a connection, so that none is closed under a request that is just being sent.
  server.keepAliveTimeout = 65_000;
  return server;

  function memberOf(req: IncomingMessage) {
    return runtime.sessions.member(readCookie(req.headers.cookie, SESSION_COOKIE));
  }

  async function plain(req: IncomingMessage, res: ServerResponse, handle: () => Promise<void>) {
    try {
      checkOrigin(req, runtime.settings.publicUrl);
      await handle();
    } catch (error) {
      fail(runtime, req, res, error);
    }
  }
}

function createFramework(runtime: Runtime, { build, assets, dev }: Pages) {
  const app = express().disable("x-powered-by");
  if (dev) app.use(dev);
  if (assets) {
    const compressed = { brotli: true, gzip: true, etag: true };
    app.use("/assets", sirv(`${assets}/assets`, { ...compressed, immutable: true, maxAge: YEAR_SECONDS }));
    app.use(sirv(assets, { ...compressed, maxAge: HOUR_SECONDS }));
  }
  app.use(compression());
  app.use((req, _res, next) => {
    checkOrigin(req, runtime.settings.publicUrl);
    next();
  });
  app.use(
    createRequestHandler({
      build,
      getLoadContext: async (req) => {
        const sessionToken = readCookie(req.headers.cookie, SESSION_COOKIE);
        return {
          runtime,
          sessionToken,
          dev: dev !== null,
          member: await runtime.sessions.member(sessionToken),
          guestKey: readCookie(req.headers.cookie, GUEST_COOKIE),
          nonce: randomBytes(16).toString("base64"),
          address: req.socket.remoteAddress ?? "unknown",
        };
      },
    }),
  );
  const onError: express.ErrorRequestHandler = (error, req, res, _next) => fail(runtime, req, res, error);
  app.use(onError);
  return app;
}

async function health(runtime: Runtime, req: IncomingMessage, res: ServerResponse) {
  try {
    await runtime.db.rows("select 1");
    sendJson(res, 200, { status: "ok" });
  } catch (error) {
    runtime.log.error({ err: error }, "health check");
    sendProblem(req, res, new Problem(503, "no-database", "The database does not answer."));
  }
}

function fail(runtime: Runtime, req: IncomingMessage, res: ServerResponse, error: unknown) {
  if (error instanceof Problem) return sendProblem(req, res, error);
  // A client that went away in the middle is no fault of ours.
  if ((error as NodeJS.ErrnoException).code === "ECONNRESET") return void res.destroy();
  runtime.log.error({ err: error, path: forLog(pathOf(req)) }, "request failed");
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

function logWhenDone(runtime: Runtime, req: IncomingMessage, res: ServerResponse) {
  const start = process.hrtime.bigint();
  res.once("close", () => {
    const ms = Number(process.hrtime.bigint() - start) / 1e6;
    const line = {
      method: req.method,
      path: forLog(pathOf(req)),
      status: res.statusCode,
      ms: Math.round(ms * 10) / 10,
    };
    if (res.statusCode >= 500) runtime.log.warn(line, "request");
    else runtime.log.debug(line, "request");
  });
}

const pathOf = (req: IncomingMessage) => (req.url ?? "/").split("?", 1)[0]!;
/** The link is a secret of those who have it: logs name no link. */
const forLog = (path: string) => path.replace(/^\/w\/[^/]+/, "/w/*");
