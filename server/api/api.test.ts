import { createServer, type Server } from "node:http";
import { Validator } from "@seriousme/openapi-schema-validator";
import { Ajv2020 } from "ajv/dist/2020.js";
import addFormats from "ajv-formats";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { apiDocument } from "#core/api/document";
import { SCOPES, type Scope } from "#core/api/scopes";
import { sharedRecording } from "../../testing/answers";
import { colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { Problem } from "../http/problem";
import { sendProblem } from "../http/send";
import type { Runtime } from "../runtime";
import { apiHandler } from "./handler";

let runtime: Runtime;
let server: Server;
let base: string;
let orla: SignedIn;
let id: string;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  const handle = apiHandler(runtime);
  server = createServer((req, res) => {
    handle(req, res, req.url!.split("?")[0]!).catch((error: unknown) => {
      if (!(error instanceof Problem)) throw error;
      sendProblem(req, res, error);
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  base = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  orla = await newMember(runtime);
  ({ id } = await sharedRecording(runtime, orla));
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await runtime.close();
});

const programOf = (member: SignedIn, scopes: readonly Scope[] = SCOPES, days = 30) =>
  runtime.programs.make(member, { name: "Timesheet", scopes, days, current: "ridge-vent-and-putty" }, "10.0.0.1");
async function ask(secret: string | null, path: string, more: RequestInit = {}) {
  const headers = { ...(secret && { authorization: `Bearer ${secret}` }), ...more.headers };
  const answer = await fetch(base + path, { ...more, headers });
  return { status: answer.status, headers: answer.headers, body: (await answer.json()) as Record<string, never> };
}
const patch = (body: unknown, type = "application/json"): RequestInit => ({
  method: "PATCH",
  body: typeof body === "string" ? body : JSON.stringify(body),
  headers: { "content-type": type },
});

// Outside check: the OpenAPI 3.1 schema of the OpenAPI initiative, and JSON Schema 2020-12 by Ajv.
describe("the description of the API", () => {
  const document = apiDocument("https://nod.glasshouse.test");
  const ajv = addFormats.default(new Ajv2020({ strict: false, allErrors: true }));
  ajv.addSchema(document, "api");
  const fits = (name: string, body: unknown) => {
    const validate = ajv.getSchema(`api#/components/schemas/${name}`)!;
    return validate(body) ? [] : validate.errors;
  };

  it("is OpenAPI 3.1", async () => {
    const said = await new Validator().validate(structuredClone(document));
    expect(said.errors).toBeUndefined();
    expect(said.valid).toBe(true);
    expect((await ask(null, "/api/openapi.json")).body).toMatchObject({ openapi: "3.1.0", paths: document.paths });
  });

  it("is what each address answers", async () => {
    const secret = await programOf(orla);
    await runtime.invites.add(id, "Hester Quill <hester@quill.example>", true);
    await runtime.asks.set(id, { kind: "nod", question: "", choices: [], due: null, zone: "UTC", reminds: false }, 0);
    const asked: [string, string][] = [
      ["/api/v1/me", "Me"],
      ["/api/v1/recordings", "Recordings"],
      [`/api/v1/recordings/${id}`, "Recording"],
      [`/api/v1/recordings/${id}/comments`, "Comments"],
      [`/api/v1/recordings/${id}/people`, "People"],
      [`/api/v1/recordings/${id}/figures`, "Figures"],
      [`/api/v1/recordings/${id}/sharing`, "Sharing"],
      [`/api/v1/recordings/${id}/film`, "Film"],
      ["/api/v1/folders", "Folders"],
    ];
    for (const [path, name] of asked) {
      const { status, body } = await ask(secret, path);
      expect([status, fits(name, body)], path).toEqual([200, []]);
    }
    const { status, body } = await ask(secret, `/api/v1/recordings/${id}`, patch({ tags: ["vents"] }));
    expect([status, fits("Recording", body), body.tags]).toEqual([200, [], ["vents"]]);
    expect(fits("Problem", (await ask(null, "/api/v1/me")).body)).toEqual([]);
    expect(fits("Me", {})).not.toEqual([]);
    const paths = Object.keys(document.paths).map((path) => path.replace("{id}", id));
    // What is not read as JSON is tried below.
    const others = [`/api/v1/recordings/${id}/folder`, `/api/v1/recordings/${id}/film/file`];
    expect(paths.sort()).toEqual([...asked.map(([path]) => path), ...others].sort());
  });

  it("says who may open a recording, where it lies, and has it made as a file", async () => {
    const secret = await programOf(orla);
    const path = `/api/v1/recordings/${id}`;
    const send = (method: string, body?: unknown): RequestInit => ({ ...patch(body ?? {}), method });
    const shared = await ask(
      secret,
      `${path}/sharing`,
      patch({ audience: "workspace", endsAt: "2031-01-01T00:00:00Z" }),
    );
    expect([shared.status, fits("Sharing", shared.body)]).toEqual([200, []]);
    expect(shared.body).toMatchObject({
      audience: "workspace",
      endsAt: "2031-01-01T00:00:00.000Z",
      hasPassword: false,
    });
    const again = await ask(secret, `${path}/sharing`, patch({ endsAt: null, password: "third bay", downloads: true }));
    expect(again.body).toMatchObject({ audience: "workspace", endsAt: null, hasPassword: true, downloads: true });
    for (const wrong of [{}, { audience: "everybody" }, { endsAt: "soon" }, { password: "short" }, { owner: "me" }])
      expect((await ask(secret, `${path}/sharing`, patch(wrong))).status, JSON.stringify(wrong)).toBe(422);
    await ask(secret, `${path}/sharing`, patch({ audience: "anyone", password: "", downloads: false }));

    const folder = await runtime.folders.make(orla, { name: "Vents", parentId: null });
    const found = await ask(secret, "/api/v1/folders?q=ent");
    expect([fits("Folders", found.body), found.body]).toEqual([
      [],
      { folders: [{ id: folder, name: "Vents", above: [] }] },
    ]);
    const put = await ask(secret, `${path}/folder`, send("PUT", { folder }));
    expect([put.status, fits("Sharing", put.body), put.body.folder]).toEqual([200, [], folder]);
    expect((await ask(secret, `${path}/folder`, send("PUT", { folder: "there" }))).status).toBe(422);
    const elsewhere = await runtime.folders.make(await newMember(runtime), { name: "Theirs", parentId: null });
    expect((await ask(secret, `${path}/folder`, send("PUT", { folder: elsewhere }))).status).toBe(404);
    expect((await ask(secret, `${path}/folder`, send("PUT", { folder: null }))).body.folder).toBeNull();

    const asked = await ask(secret, `${path}/film`, { method: "POST" });
    expect([asked.status, fits("Film", asked.body)]).toEqual([200, []]);
    await expect
      .poll(async () => (await ask(secret, `${path}/film`)).body.state, { timeout: 15_000, interval: 100 })
      .toBe("ready");
    const file = await fetch(`${base}${path}/film/file`, { headers: { authorization: `Bearer ${secret}` } });
    expect(file.status).toBe(200);
    expect((await file.arrayBuffer()).byteLength).toBe((await ask(secret, `${path}/film`)).body.size);
    // Of others what they allow, and no more.
    const bram = await colleagueOf(runtime, orla);
    const his = await programOf(bram);
    expect((await ask(his, `${path}/film/file`)).status).toBe(404);
    for (const deed of ["sharing", "figures"]) expect((await ask(his, `${path}/${deed}`)).status).toBe(404);
    expect((await ask(his, `${path}/sharing`, patch({ audience: "owner" }))).status).toBe(404);
    expect((await ask(his, `${path}/film`, { method: "POST" })).status).toBe(404);
  });

  it("names who is asked, and tells nobody the key of their link", async () => {
    const { body } = await ask(await programOf(orla), `/api/v1/recordings/${id}/people`);
    const invite = await runtime.db.models.Invite.findOne({ where: { recordingId: id } });
    expect(JSON.stringify(body)).toContain("Hester Quill");
    expect(JSON.stringify(body)).not.toContain(invite!.key);
  });
});

describe("a program", () => {
  it("does what its scopes say and nothing else", async () => {
    const reads = await programOf(orla, ["read"]);
    expect((await ask(reads, `/api/v1/recordings/${id}`)).status).toBe(200);
    for (const [path, more, scope] of [
      [`/api/v1/recordings/${id}/comments`, {}, "answers"],
      [`/api/v1/recordings/${id}/people`, {}, "answers"],
      [`/api/v1/recordings/${id}`, patch({ title: "No" }), "change"],
      [`/api/v1/recordings/${id}/figures`, {}, "answers"],
      [`/api/v1/recordings/${id}/sharing`, {}, "share"],
      [`/api/v1/recordings/${id}/sharing`, patch({ audience: "owner" }), "share"],
      [`/api/v1/recordings/${id}/folder`, { ...patch({ folder: null }), method: "PUT" }, "share"],
      [`/api/v1/recordings/${id}/film`, { method: "POST" }, "change"],
    ] as [string, RequestInit, string][]) {
      const { status, headers } = await ask(reads, path, more);
      expect([status, headers.get("www-authenticate")]).toEqual([
        403,
        `Bearer error="insufficient_scope", scope="${scope}"`,
      ]);
    }
    const changes = await programOf(orla, ["change"]);
    expect((await ask(changes, `/api/v1/recordings/${id}`)).status).toBe(403);
    const { body } = await ask(
      changes,
      `/api/v1/recordings/${id}`,
      patch({ title: "Vents", description: "All of it" }),
    );
    expect(body).toMatchObject({ title: "Vents", description: "All of it" });
  });

  it("sees what whom it acts for sees, in one workspace", async () => {
    const bram = await colleagueOf(runtime, orla);
    const his = await programOf(bram);
    expect((await ask(his, `/api/v1/recordings/${id}`)).body).toMatchObject({ mine: false, sender: "Orla Fenn" });
    expect((await ask(his, `/api/v1/recordings/${id}/people`)).status).toBe(404);
    expect((await ask(his, `/api/v1/recordings/${id}`, patch({ title: "Mine" }))).status).toBe(404);
    await runtime.sharing.change(orla, id, { audience: "owner" });
    const nothing = await ask(his, `/api/v1/recordings/${crypto.randomUUID()}`);
    expect(await ask(his, `/api/v1/recordings/${id}`)).toMatchObject({ status: 404, body: nothing.body });
    expect((await ask(his, "/api/v1/recordings")).body).toEqual({ recordings: [], next: null });
    await runtime.sharing.change(orla, id, { audience: "anyone" });
    // Of another workspace, though anybody with the link may watch it, and though it is one's own.
    const ida = await newMember(runtime, "Ida Crake");
    expect((await ask(await programOf(ida), `/api/v1/recordings/${id}`)).status).toBe(404);
    const other = await runtime.workspaces.create(orla, "Another");
    const token = await runtime.sessions.start(orla.id);
    await runtime.sessions.choose(token, other);
    const elsewhere = await programOf((await runtime.sessions.member(token))!);
    expect((await ask(elsewhere, "/api/v1/me")).body).toMatchObject({ workspace: { name: "Another" } });
    expect((await ask(elsewhere, `/api/v1/recordings/${id}`)).status).toBe(404);
  });

  it("may nothing any more once it was ended, its time is over, or its person has left", async () => {
    const bram = await colleagueOf(runtime, orla, "Tove Reed");
    const [first, second] = [await programOf(bram), await programOf(bram)];
    const [newest] = await runtime.programs.of(bram.id);
    // Nobody else ends it.
    await runtime.programs.end(orla.id, newest!.id);
    expect((await ask(second, "/api/v1/me")).status).toBe(200);
    await runtime.programs.end(bram.id, newest!.id);
    expect([(await ask(first, "/api/v1/me")).status, (await ask(second, "/api/v1/me")).status].sort()).toEqual([
      200, 401,
    ]);
    const { Program } = runtime.db.models;
    await Program.update({ endsAt: new Date(Date.now() - 1000) }, { where: { personId: bram.id } });
    expect((await ask(first, "/api/v1/me")).status).toBe(401);
    expect((await ask(second, "/api/v1/me")).status).toBe(401);
    const third = await programOf(bram);
    expect((await ask(third, "/api/v1/me")).status).toBe(200);
    await runtime.workspaces.remove(orla, { person: bram.id, heir: orla.id });
    expect((await ask(third, "/api/v1/me")).status).toBe(401);
  });

  it("is known by its secret alone, of which the database has the HMAC", async () => {
    const secret = await programOf(orla);
    const [row] = await runtime.db.rows<{ all: string }>(
      `select string_agg(programs::text, ' ') as all from programs`,
      [],
    );
    expect(row!.all).not.toContain(secret.slice("clear-nod-".length));
    for (const [sent, said] of [
      [null, "Bearer"],
      [`${secret.slice(0, -1)}${secret.endsWith("A") ? "B" : "A"}`, 'Bearer error="invalid_token"'],
      ["clear-nod-", 'Bearer error="invalid_token"'],
    ] as const) {
      const { status, headers } = await ask(sent, "/api/v1/me");
      expect([status, headers.get("www-authenticate")]).toEqual([401, said]);
    }
    // No cookie lets a program in.
    const token = await runtime.sessions.start(orla.id);
    const cookie = await ask(null, "/api/v1/me", { headers: { cookie: `clear_nod_session=${token}` } });
    expect(cookie.status).toBe(401);
  });

  it("is told what is wrong with what it sends, and nothing is changed then", async () => {
    const secret = await programOf(orla);
    const path = `/api/v1/recordings/${id}`;
    const before = (await ask(secret, path)).body;
    for (const [more, status] of [
      [patch("{"), 400],
      [patch({}), 422],
      [patch([]), 422],
      [patch({ title: "" }), 422],
      [patch({ title: "x".repeat(161) }), 422],
      [patch({ title: "Good", audience: "anyone" }), 422],
      [patch({ title: "Good" }, "text/plain"), 415],
      [patch("x".repeat(70_000)), 413],
      [{ method: "DELETE" }, 405],
    ] as [RequestInit, number][])
      expect((await ask(secret, path, more)).status, JSON.stringify(more).slice(0, 80)).toBe(status);
    expect((await ask(secret, path)).body).toEqual(before);
    expect((await ask(secret, "/api/v1/recordings/nonsense")).status).toBe(404);
    expect((await ask(secret, "/api/v1/nothing")).status).toBe(404);
    expect((await ask(secret, "/api/v1/recordings?after=made-up")).status).toBe(400);
    expect((await ask(secret, "/api/v1/recordings?q=%00vent%25")).body).toEqual({ recordings: [], next: null });
  });

  it("is one of 20 at the most, also when many are made at once", async () => {
    const maud = await newMember(runtime, "Maud Thorne");
    let made = 0;
    // Ten at once, as many as a password may be tried at.
    for (let round = 0; round < 3; round++) {
      const some = await Promise.allSettled(Array.from({ length: 10 }, () => programOf(maud, ["read"], 0)));
      made += some.filter(({ status }) => status === "fulfilled").length;
    }
    expect(made).toBe(20);
    const all = await runtime.programs.of(maud.id);
    expect(all.length).toBe(20);
    expect(all[0]).toMatchObject({ name: "Timesheet", scopes: ["read"], endsAt: null, lastAt: null });
  });
});
