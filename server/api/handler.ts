import type { IncomingMessage, ServerResponse } from "node:http";
import Joi from "joi";
import { may, type Deed } from "#core/access/access";
import { apiDocument } from "#core/api/document";
import type { Scope } from "#core/api/scopes";
import type { KnownRecording } from "../access/facts";
import type { ActingFor } from "../accounts/programs";
import { readBody } from "../http/body";
import { isUuid } from "../http/fields";
import { Problem } from "../http/problem";
import { sendJson } from "../http/send";
import { libraryQuery, type LibraryQuery } from "../recordings/library-query";
import { descriptionField, tagsField, titleField } from "../recordings/takes";
import type { Runtime } from "../runtime";
import { listed, toldComments, toldPeople, toldRecording } from "./told";

/** What a program asks, once it is known which. */
interface Asked {
  runtime: Runtime;
  by: ActingFor;
  /** the id in the path */
  id: string;
  query: URLSearchParams;
  body: () => Promise<unknown>;
}
interface Route {
  method: "GET" | "PATCH";
  path: RegExp;
  scope: Scope | null;
  work: (asked: Asked) => Promise<unknown>;
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
      const { titleVersion, description, tags } = await runtime.library.details(recording.id);
      if (title !== undefined) await runtime.library.rename(by.member, recording.id, title, titleVersion);
      if (about.description !== undefined || about.tags !== undefined)
        await runtime.library.describe(by.member, recording.id, { description, tags, ...about });
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
      body: () => readJson(req),
    };
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

/** @throws {Problem} 404 for what is not there, not theirs, or of another workspace */
async function recordingOf({ runtime, by: { member }, id }: Asked, deed: Deed): Promise<KnownRecording> {
  const recording = isUuid(id) ? await runtime.access.byId(id) : null;
  if (!recording || recording.workspaceId !== member.workspaceId || !may(member, deed, recording, Date.now()))
    throw new Problem(404, "not-found", "This recording is not there, or not for you.");
  return recording;
}

async function readJson(req: IncomingMessage): Promise<unknown> {
  if (!/^application\/(?:[\w.+-]+\+)?json\b/i.test(req.headers["content-type"] ?? ""))
    throw new Problem(415, "not-json", "Send this as application/json.");
  try {
    return JSON.parse((await readBody(req, BODY)).toString("utf8"));
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
