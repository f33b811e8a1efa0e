import type { IncomingMessage, ServerResponse } from "node:http";
import Joi from "joi";
import { may, type Deed } from "#core/access/access";
import { apiDocument } from "#core/api/document";
import type { Scope } from "#core/api/scopes";
import type { KnownRecording } from "../access/facts";
import type { ActingFor } from "../accounts/programs";
import { readBody } from "../http/body";
import { sendFilm } from "../films/handler";
import { isUuid, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import { sendJson } from "../http/send";
import { libraryQuery, type LibraryQuery } from "../recordings/library-query";
import { descriptionField, tagsField, titleField } from "../recordings/takes";
import type { Runtime } from "../runtime";
import { shareForm, sharedMoment } from "../sharing/forms";
import type { ShareChange } from "../sharing/sharing";
import { listed, toldComments, toldFigures, toldPeople, toldRecording, toldSharing } from "./told";

/** What a program asks, once it is known which. */
interface Asked {
  runtime: Runtime;
  by: ActingFor;
  /** the id in the path */
  id: string;
  query: URLSearchParams;
  body: () => Promise<unknown>;
  address: string;
}
interface Route {
  method: "GET" | "PATCH" | "PUT" | "POST";
  path: RegExp;
  scope: Scope | null;
  /** what is answered, as JSON; or it answers itself */
  work:
    | ((asked: Asked) => Promise<unknown>)
    | { sends: (asked: Asked, req: IncomingMessage, res: ServerResponse) => Promise<void> };
}

const DOCUMENT = "/api/openapi.json";
const ONE = (rest: string) => new RegExp(`^/api/v1/recordings/([^/]+)${rest}$`);
const BODY = { most: 64 * 1024, withinMs: 15_000 };

const queryForm = Joi.object({ q: libraryQuery.extract("q"), after: libraryQuery.extract("after") });
const changeForm = Joi.object({
  title: titleField.optional(),
  description: descriptionField,
  tags: tagsField,
}).min(1);

const foldersForm = Joi.object({ q: libraryQuery.extract("q") });
const sharingForm = shareForm.keys({ opensAt: sharedMoment.allow(null), endsAt: sharedMoment.allow(null) }).min(1);
const placingForm = Joi.object({ folder: uuidField.allow(null).required(), open: Joi.boolean().default(false) });

/** As `core/api/document` describes them. */
const ROUTES: Route[] = [
  {
    method: "GET",
    path: /^\/api\/v1\/me$/,
    scope: null,
    work: ({ by: { member, program } }) =>
      Promise.resolve({
        person: { id: member.id, name: member.name, email: member.email },
        workspace: { id: member.workspaceId, name: member.workspaceName },
        program: { name: program.name, scopes: program.scopes },
      }),
  },
  {
    method: "GET",
    path: /^\/api\/v1\/recordings$/,
    scope: "read",
    work: async ({ runtime, by, query }) => {
      const { q, after } = valid<Pick<LibraryQuery, "q" | "after">>(queryForm, Object.fromEntries(query));
      const page = await runtime.library.page(by.member, { q, after, sort: "newest", show: "kept", group: null });
      const { publicUrl } = runtime.settings;
      return { recordings: page.rows.map((row) => listed(row, publicUrl)), next: page.next };
    },
  },
  {
    method: "GET",
    path: ONE(""),
    scope: "read",
    work: async (asked) => toldRecording(asked.runtime, asked.by.member, await recordingOf(asked, "watch")),
  },
  {
    method: "PATCH",
    path: ONE(""),
    scope: "change",
    work: async (asked) => {
      const { runtime, by } = asked;
      const recording = await recordingOf(asked, "change");
      const { title, ...about } = valid<Change>(changeForm, await asked.body());
      const { titleVersion, ...details } = await runtime.library.details(recording.id);
      const seen = { description: details.description, tags: details.tags };
      if (title !== undefined) await runtime.library.rename(by.member, recording.id, title, titleVersion);
      if (about.description !== undefined || about.tags !== undefined)
        await runtime.library.describe(by.member, recording.id, { ...seen, ...about }, seen);
      return toldRecording(runtime, by.member, recording);
    },
  },
  {
    method: "GET",
    path: ONE("/comments"),
    scope: "answers",
    work: async (asked) => toldComments(await asked.runtime.comments.list((await recordingOf(asked, "watch")).id)),
  },
  {
    method: "GET",
    path: ONE("/people"),
    scope: "answers",
    work: async (asked) => {
      const { id } = await recordingOf(asked, "figures");
      const ask = await asked.runtime.asks.of(id);
      return toldPeople(ask, await asked.runtime.people(id, ask, Date.now()));
    },
  },
  {
    method: "GET",
    path: ONE("/figures"),
    scope: "answers",
    work: async (asked) => {
      const { id } = await recordingOf(asked, "figures");
      const ask = await asked.runtime.asks.of(id);
      return toldFigures(await asked.runtime.figures.one(id, ask, Date.now()));
    },
  },
  {
    method: "GET",
    path: ONE("/sharing"),
    scope: "share",
    work: async (asked) => toldSharing(await asked.runtime.sharing.of((await recordingOf(asked, "change")).id)),
  },
  {
    method: "PATCH",
    path: ONE("/sharing"),
    scope: "share",
    work: async (asked) => {
      const { id } = await recordingOf(asked, "change");
      const change = valid<ShareChange>(sharingForm, await asked.body());
      await taken(asked, "share");
      await asked.runtime.sharing.change(asked.by.member, id, change);
      return toldSharing(await asked.runtime.sharing.of(id));
    },
  },
  {
    method: "PUT",
    path: ONE("/folder"),
    scope: "share",
    work: async (asked) => {
      const { id } = await recordingOf(asked, "change");
      const { folder, open } = valid<{ folder: string | null; open: boolean }>(placingForm, await asked.body());
      await taken(asked, "share");
      await asked.runtime.folderContents.put(asked.by.member, { recordings: [id], to: folder, open });
      return toldSharing(await asked.runtime.sharing.of(id));
    },
  },
  {
    method: "GET",
    path: ONE("/film"),
    scope: "read",
    work: async (asked) => asked.runtime.films.of((await recordingOf(asked, "download")).id),
  },
  {
    method: "POST",
    path: ONE("/film"),
    scope: "change",
    work: async (asked) => {
      const { id } = await recordingOf(asked, "change");
      await taken(asked, "film");
      await asked.runtime.films.ask(id, { anew: true });
      return asked.runtime.films.of(id);
    },
  },
  {
    method: "GET",
    path: ONE("/film/file"),
    scope: "read",
    work: {
      sends: async (asked, req, res) => sendFilm(asked.runtime, req, res, (await recordingOf(asked, "download")).id),
    },
  },
  {
    method: "GET",
    path: /^\/api\/v1\/folders$/,
    scope: "read",
    work: async ({ runtime, by, query }) => {
      const { q } = valid<Pick<LibraryQuery, "q">>(foldersForm, Object.fromEntries(query));
      const found = await runtime.folders.find(by.member, q);
      return { folders: found.map(({ id, name, above }) => ({ id, name, above })) };
    },
  },
];

interface Change {
  title?: string;
  description?: string;
  tags?: string[];
}

export const isApiPath = (path: string) => path.startsWith("/api/");

/**
 * What programs ask. They are known by a secret that they send (RFC 6750), never by a cookie; what they may is what
 * whom they act for may, within one workspace, and no more than their scopes.
 */
export function apiHandler(runtime: Runtime) {
  return async (req: IncomingMessage, res: ServerResponse, path: string): Promise<void> => {
    if (path === DOCUMENT) {
      if (req.method !== "GET") throw wrongMethod(res, ["GET"]);
      return sendJson(res, 200, apiDocument(runtime.settings.publicUrl));
    }
    const by = await actingFor(runtime, req, res);
    const there = ROUTES.filter((route) => route.path.test(path));
    if (there.length === 0) throw new Problem(404, "not-found", "There is nothing at this address.");
    const route = there.find(({ method }) => method === req.method);
    if (!route)
      throw wrongMethod(
        res,
        there.map(({ method }) => method),
      );
    if (route.scope && !by.program.scopes.includes(route.scope)) {
      res.setHeader("www-authenticate", `Bearer error="insufficient_scope", scope="${route.scope}"`);
      throw new Problem(403, "not-allowed", `This program may not do that; it needs “${route.scope}”.`);
    }
    const asked: Asked = {
      runtime,
      by,
      id: route.path.exec(path)![1] ?? "",
      query: new URL(req.url!, "http://x").searchParams,
      body: () => readJson(req, by.member.id),
      address: runtime.addressOf(req),
    };
    if ("sends" in route.work) return route.work.sends(asked, req, res);
    sendJson(res, 200, await route.work(asked));
  };
}

/** @throws {Problem} 401 */
async function actingFor(runtime: Runtime, req: IncomingMessage, res: ServerResponse): Promise<ActingFor> {
  const [, secret] = /^Bearer ([\w-]{1,200})$/i.exec(req.headers.authorization ?? "") ?? [];
  const address = runtime.addressOf(req);
  const by = secret ? await runtime.programs.shown(secret) : null;
  if (by) {
    await runtime.limits.take("program", { viewer: by.program.id, address });
    return by;
  }
  if (secret) await runtime.limits.take("programMiss", { viewer: address, address });
  res.setHeader("www-authenticate", secret ? 'Bearer error="invalid_token"' : "Bearer");
  throw new Problem(401, "no-program", "Send the secret of a program: Authorization: Bearer …");
}

/** Counts with what the person does by hand. @throws {Problem} 429 */
const taken = ({ runtime, by, address }: Asked, kind: "share" | "film") =>
  runtime.limits.take(kind, { viewer: by.member.id, address });

/** @throws {Problem} 404 for what is not there, not theirs, or of another workspace */
async function recordingOf({ runtime, by: { member }, id }: Asked, deed: Deed): Promise<KnownRecording> {
  const recording = isUuid(id) ? await runtime.access.byId(id) : null;
  if (!recording || recording.workspaceId !== member.workspaceId || !may(member, deed, recording, Date.now()))
    throw new Problem(404, "not-found", "This recording is not there, or not for you.");
  return recording;
}

async function readJson(req: IncomingMessage, one: string): Promise<unknown> {
  if (!/^application\/(?:[\w.+-]+\+)?json\b/i.test(req.headers["content-type"] ?? ""))
    throw new Problem(415, "not-json", "Send this as application/json.");
  try {
    return JSON.parse((await readBody(req, BODY, one)).toString("utf8"));
  } catch (cause) {
    if (cause instanceof Problem) throw cause;
    throw new Problem(400, "not-json", "The body is not JSON.");
  }
}

function valid<T>(form: Joi.Schema, given: unknown): T {
  const { value, error } = form.validate(given);
  if (error) throw new Problem(422, "not-valid", error.message);
  return value as T;
}

function wrongMethod(res: ServerResponse, allowed: string[]): Problem {
  res.setHeader("allow", allowed.join(", "));
  return new Problem(405, "wrong-method", `This address takes ${allowed.join(" and ")}.`);
}
