import { createHash, randomBytes } from "node:crypto";
import { mkdtempSync } from "node:fs";
import { createServer } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TakeSource, TrackName } from "../core/media/tracks";
import type { SignedIn } from "../server/accounts/sessions";
import { Problem } from "../server/http/problem";
import { sendProblem } from "../server/http/send";
import { writeContentDigest } from "../server/ingest/digest";
import { ingestHandler } from "../server/ingest/handler";
import { filmHandler, isFilmPath } from "../server/films/handler";
import { isMediaPath, mediaHandler } from "../server/playback/handler";
import { openRuntime, type Runtime } from "../server/runtime";
import { readSettings } from "../server/settings";
import { makeTrack, type MadeKind, type MadeTrack } from "./media";
import { createDatabase } from "./postgres";

/**
 * A runtime on a fresh database of the given cluster, with its own data directory.
 * @param env what else is set
 */
export async function freshRuntime(clusterUrl: string, env: Record<string, string> = {}): Promise<Runtime> {
  const url = await createDatabase(clusterUrl, `t${randomBytes(6).toString("hex")}`);
  const dataDir = mkdtempSync(join(tmpdir(), "clear-nod-data-"));
  const settings = readSettings({ DATA_DIR: dataDir, LOG_LEVEL: "silent", ...env });
  return openRuntime(settings, url);
}

/** The address of a runtime's database, for a second process on it. */
export function databaseUrlOf({ db }: Runtime): string {
  const { database, username, password, host, port } = db.sequelize.config;
  return `postgres://${username}:${password}@${host}:${port}/${database}`;
}

/** The plain handlers on a free port. The member is named by a header, so that tests can be anybody. */
export async function serve(runtime: Runtime, people: Map<string, SignedIn>) {
  const ingest = ingestHandler(runtime);
  const media = mediaHandler(runtime);
  const film = filmHandler(runtime);
  const server = createServer((req, res) => {
    const path = req.url!.split("?")[0]!;
    const member = people.get(String(req.headers["x-person"])) ?? null;
    (isMediaPath(path) ? media : isFilmPath(path) ? film : ingest)(req, res, path, member).catch((error: unknown) => {
      if (!(error instanceof Problem)) throw error;
      sendProblem(req, res, error);
    });
  });
  // As in the application: what is decoded in this process keeps a connection waiting for longer than five seconds.
  server.keepAliveTimeout = 65_000;
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const base = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  return { base, close: () => new Promise<void>((done) => server.close(() => done())) };
}

export async function newMember(runtime: Runtime, name = "Orla Fenn"): Promise<SignedIn> {
  const email = `${randomBytes(5).toString("hex")}@glasshouse.test`;
  const account = { name, workspace: "Fenn & Lark", email, password: "ridge-vent-and-putty" };
  const id = await runtime.accounts.signUp(account, "198.51.100.7");
  await runtime.db.models.Person.update({ provedAt: new Date() }, { where: { id } });
  return (await runtime.sessions.member(await runtime.sessions.start(id)))!;
}

/** Another member of somebody's workspace, who came by a link. */
export async function colleagueOf(runtime: Runtime, member: SignedIn, name = "Bram Lark"): Promise<SignedIn> {
  await runtime.workspaces.makeLink(member, { role: "member", days: 1 });
  const [link] = await runtime.workspaces.links(member);
  const email = `${randomBytes(5).toString("hex")}@glasshouse.test`;
  const account = { name, email, password: "ridge-vent-and-putty" };
  const id = await runtime.accounts.signUpToJoin(account, link!.token, "198.51.100.7");
  await runtime.db.models.Person.update({ provedAt: new Date() }, { where: { id } });
  return (await runtime.sessions.member(await runtime.sessions.start(id)))!;
}

export const sha256 = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest();
export const contentDigest = (bytes: Uint8Array) => writeContentDigest(sha256(bytes));

/** Feeds a whole take made by ffmpeg straight into the ingest. @returns the recording's ids */
export async function feedTake(
  runtime: Runtime,
  member: SignedIn,
  source: TakeSource,
  tracks: Readonly<Record<string, MadeKind>>,
  seconds: number,
  title = "How the ridge vent closes",
) {
  const take = await runtime.takes.start(member, { source, title, audience: "owner" });
  return { ...take, expected: await feed(runtime, take.takeId, tracks, seconds) };
}

/** Feeds an open take, and ends it. @returns how many segments each track has */
export async function feed(
  runtime: Runtime,
  takeId: string,
  tracks: Readonly<Record<string, MadeKind>>,
  seconds: number,
): Promise<Record<string, number>> {
  const made = Object.entries(tracks).map(
    ([name, what]) => [name as TrackName, makeTrack(what, seconds)] as [TrackName, MadeTrack],
  );
  for (const [name, { init, segments }] of made) {
    await runtime.ingest.putInit(takeId, name, Buffer.from(init), sha256(init));
    for (const [i, bytes] of segments.entries())
      await runtime.ingest.putSegment(takeId, name, i + 1, Buffer.from(bytes), sha256(bytes));
  }
  const expected = Object.fromEntries(made.map(([name, { segments }]) => [name, segments.length]));
  await runtime.takes.finish(takeId, { expected });
  return expected;
}

/** How work for a person has ended: "done", the code of the problem that they are told of, or another error. */
export const codeOf = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => "done",
    (error: unknown) => (error instanceof Problem ? error.code : error),
  );
