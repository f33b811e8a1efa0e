import { Server, type ServerOptions, type Upload } from "@tus/server";
import express, { type Express, type NextFunction, type Request, type Response } from "express";
import { createReadStream } from "node:fs";
import { stat } from "node:fs/promises";
import { join } from "node:path";
import { readBody } from "../../server/http/body";
import { readCookie } from "../../server/http/cookies";
import { Problem } from "../../server/http/problem";
import { sendJson, sendProblem, sendStored } from "../../server/http/send";
import type { Runtime } from "../../server/runtime";
import { WORKSPACE_ID } from "../people";
import { otherSite, standIn, type StandIn } from "../stand-in";
import { frontPage, nothingPage, videoPage } from "./pages";
import { aboutForm, MOST_VIDEOS, Videos, type Video } from "./videos";

/** What opens the channel for programs. It is the sample's, on this computer alone. */
export const KEY = "putty-and-sash-bars";
const PLACE_ID = "0c1ea470-0d00-4000-8000-0000000000c1";

const MOST_BYTES = 8 * 1024 ** 3;
const BODY = { most: 128 * 1024, withinMs: 10_000 };
const WORKS_MS = 3_000;
/** The cookie of whoever looks as one of the guild. */
const GUILD = "guild";

/**
 * Stands in for a channel of somebody else, at which films are shown: it takes them by tus 1.0, works on each for a
 * while, and gives it a page. The sample's workspace has it as a place.
 */
export async function startChannel(runtime: Runtime): Promise<StandIn | null> {
  const { settings, places } = runtime;
  const url = otherSite(settings, settings.channelPort);
  const videos = await Videos.open(join(settings.dataDir, "channel"), WORKS_MS);
  const answer = channel(videos, url, (err) => runtime.log.error({ err }, "the channel of the sample"));
  const what = "The channel of a guild, to which recordings can be sent";
  const stands = await standIn(runtime, { what, port: settings.channelPort, setting: "CHANNEL_PORT", answer });
  if (!stands) {
    await videos.close();
    return null;
  }
  const place = { kind: "channel", name: "Guild channel", address: `${url}/`, account: "", password: KEY } as const;
  await places.keep(WORKSPACE_ID, PLACE_ID, place);
  return {
    ...stands,
    stop: async () => {
      await stands.stop();
      await videos.close();
    },
  };
}

/** The channel, as what answers. @param onTrouble told what went wrong that is nobody's fault */
export function channel(videos: Videos, url: string, onTrouble: (error: Error) => void): Express {
  const app = express();
  const tus = uploads(videos);
  let breakNext = false;

  app.disable("x-powered-by");
  app.use((req, res, next) => {
    // By its other name it would be the same site as ours.
    if (req.headers.host !== new URL(url).host) return res.redirect(303, url);
    res.setHeader("cache-control", "no-store");
    res.setHeader("x-content-type-options", "nosniff");
    next();
  });

  app.use(["/files", "/videos"], (req, _res, next) => {
    if (req.headers.authorization !== `Bearer ${KEY}`) throw new Problem(401, "no-key", "Give the channel's key.");
    next();
  });
  app.all(["/files", "/files/:id"], async (req, res) => {
    if (req.method === "PATCH" && breakNext) {
      breakNext = false;
      breakOff(req);
    }
    await tus.handle(req, res);
  });
  app.get("/videos", (_req, res) => sendJson(res, 200, { videos: videos.all.map((video) => told(video, url)) }));
  app.get("/videos/:id", (req, res) => sendJson(res, 200, told(known(videos, req), url)));
  app.patch("/videos/:id", async (req, res) => {
    const video = known(videos, req);
    await videos.change(video, checked(JSON.parse((await readBody(req, BODY, "stand-in")).toString("utf8"))));
    res.sendStatus(204);
  });
  app.delete("/videos/:id", async (req, res) => {
    await videos.drop(known(videos, req));
    res.sendStatus(204);
  });

  app.get("/", (req, res) => {
    const within = isWithin(req);
    const wrong = breakNext ? "The next upload breaks off." : videos.failNext ? "Work on the next one fails." : null;
    const shown = videos.all.filter(({ seenBy }) => within || seenBy === "everybody");
    html(res, 200, frontPage({ videos: shown, within, wrong, url: `${url}/`, key: KEY }));
  });
  app.post(["/wrong", "/come-in", "/leave"], async (req, res) => {
    if (req.headers.origin !== url) throw new Problem(403, "foreign-origin", "This came from another site.");
    const what = new URLSearchParams((await readBody(req, BODY, "stand-in")).toString("utf8")).get("what");
    if (req.path === "/wrong") {
      breakNext = what === "break";
      videos.failNext = what === "fail";
    } else
      res.setHeader(
        "set-cookie",
        `${GUILD}=1; Path=/; HttpOnly; SameSite=Lax${req.path === "/leave" ? "; Max-Age=0" : ""}`,
      );
    res.redirect(303, "/");
  });
  app.get("/v/:id", (req, res) => html(res, 200, videoPage(watchable(videos, req))));
  app.get("/v/:id/file", async (req, res) => {
    const { shown, type } = watchable(videos, req);
    const file = videos.file(shown!);
    const { size } = await stat(file);
    await sendStored(req, res, {
      ...{ type, etag: `"${shown}"`, cacheControl: "private, no-cache", size },
      read: ({ from, to }) => Promise.resolve(createReadStream(file, { start: from, end: to })),
    });
  });

  app.use((_req, res) => html(res, 404, nothingPage()));
  app.use((error: Error, req: Request, res: Response, next: NextFunction) => {
    if (res.headersSent) return next(error);
    const problem = error instanceof SyntaxError ? new Problem(400, "not-json", "This is no JSON.") : error;
    if (problem instanceof Problem && problem.code === NOTHING && req.path.startsWith("/v/"))
      return html(res, 404, nothingPage());
    if (problem instanceof Problem) return sendProblem(req, res, problem);
    onTrouble(problem);
    sendProblem(req, res, new Problem(500, "trouble", "That went wrong."));
  });
  return app;
}

/** What takes uploads, and makes videos of those that are whole. */
function uploads(videos: Videos): Server {
  const refuse = (status_code: number, body: string) => Object.assign(new Error(body), { status_code, body });
  const aboutOf = ({ metadata }: Upload) => {
    const { title, seenBy } = metadata ?? {};
    const { value, error } = aboutForm.validate({ title, seenBy });
    if (error) throw refuse(422, error.message);
    return value;
  };
  const replacedBy = ({ metadata }: Upload) => (metadata?.replaces ? videos.find(metadata.replaces) : null);
  const options: Omit<ServerOptions, "locker"> = {
    path: "/files",
    relativeLocation: true,
    maxSize: MOST_BYTES,
    disableTerminationForFinishedUploads: true,
    onUploadCreate: (_req, upload) => {
      aboutOf(upload);
      const { filetype, replaces } = upload.metadata ?? {};
      if (filetype !== "video/mp4" && filetype !== "audio/mp4") throw refuse(422, "Films are taken, as MP4.");
      const replaced = replacedBy(upload);
      if (replaces && !replaced) throw refuse(422, "What is to be replaced is not there.");
      if (!replaced && videos.all.length >= MOST_VIDEOS) throw refuse(507, "The channel is full.");
      return Promise.resolve({});
    },
    onUploadFinish: async (_req, upload) => {
      await videos.take(upload, aboutOf(upload), replacedBy(upload));
      return {};
    },
  };
  return new Server({ ...options, datastore: videos.store });
}

/** The connection is gone when half of what it brings has come. */
function breakOff(req: Request): void {
  const { socket } = req;
  const half = socket.bytesRead + Number(req.headers["content-length"] ?? 0) / 2;
  const look = () => {
    if (socket.destroyed) return;
    if (socket.bytesRead >= half || req.complete) socket.destroy();
    else setImmediate(look);
  };
  look();
}

const NOTHING = "not-found";

/** @throws {Problem} 404 */
function known(videos: Videos, { params }: Request): Video {
  const video = videos.find(String(params.id));
  if (!video) throw new Problem(404, NOTHING, "There is no such video.");
  return video;
}

/** @throws {Problem} 404 also where it is not for whoever asks */
function watchable(videos: Videos, req: Request): Video {
  const video = known(videos, req);
  if (video.shown === null || (video.seenBy === "people" && !isWithin(req)))
    throw new Problem(404, NOTHING, "There is no such video.");
  return video;
}

/** @throws {Problem} 422 */
function checked(given: unknown) {
  const { value, error } = aboutForm.validate(given);
  if (error) throw new Problem(422, "not-valid", error.message);
  return value;
}

const isWithin = ({ headers }: Request): boolean => readCookie(headers.cookie, GUILD) === "1";

const told = ({ id, state, shown, problem }: Video, url: string) => ({
  ...{ id, state, problem },
  link: shown === null ? null : `${url}/v/${id}`,
});

function html(res: Response, status: number, text: string): void {
  const policy = "default-src 'none'; style-src 'unsafe-inline'; media-src 'self'; form-action 'self'";
  res.status(status).setHeader("content-security-policy", policy).type("html").send(text);
}
