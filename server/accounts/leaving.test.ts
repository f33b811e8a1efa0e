import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { wrongField } from "../../testing/forms";
import { Browser, sharedRecording } from "../../testing/answers";
import { codeOf, colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { endAccountForm } from "./leaving";
import type { SignedIn } from "./sessions";

const PASSWORD = "ridge-vent-and-putty";
let runtime: Runtime;
let orla: SignedIn;
let suri: SignedIn;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
beforeEach(async () => {
  orla = await newMember(runtime, "Orla Fenn");
  suri = await colleagueOf(runtime, orla, "Suri Vale");
});
afterAll(() => runtime.close());

const end = (who: SignedIn, heirs: Record<string, string> = {}, current = PASSWORD) =>
  runtime.leaving.end(who, { current, heirs }, "198.51.100.7");
const signIn = ({ email }: SignedIn) =>
  codeOf(runtime.accounts.signIn({ email, password: PASSWORD }, { address: "198.51.100.9", computer: null }));
const at = async (token: string) => (await runtime.access.find(null, token)).door;
const files = async (recordingId: string) => {
  const takes = await runtime.db.models.Take.findAll({ where: { recordingId }, attributes: ["id"] });
  return async () => {
    let count = 0;
    for (const { id } of takes) for await (const { key } of runtime.storage.list(`takes/${id}`)) count += key ? 1 : 0;
    return count;
  };
};

describe("an account that ends", () => {
  it("takes with it what is theirs alone: rows, links and files", async () => {
    const alone = await newMember(runtime, "Ida Crake");
    const recording = await sharedRecording(runtime, alone);
    const count = await files(recording.id);
    expect([await at(recording.token), (await count()) > 0]).toEqual(["open", true]);
    expect(await runtime.leaving.partings(alone.id)).toEqual([
      { id: alone.workspaceId, name: "Fenn & Lark", heirs: [], recordings: 1 },
    ]);
    await end(alone);
    await runtime.leaving.settled();
    expect([await at(recording.token), await count(), await signIn(alone)]).toEqual(["nothing", 0, "wrong-sign-in"]);
    const { Person, Workspace, Recording } = runtime.db.models;
    expect(await Person.findByPk(alone.id)).toBeNull();
    expect(await Workspace.findByPk(alone.workspaceId)).toBeNull();
    expect(await Recording.findByPk(recording.id)).toBeNull();
    const [mail] = await runtime.db.models.Mail.findAll({ where: { toAddress: alone.email } });
    expect(mail!.subject).toBe("Your account has ended");
    // The address is free again.
    const account = { name: "Ida Crake", workspace: "Anew", email: alone.email, password: PASSWORD };
    expect(await codeOf(runtime.accounts.signUp(account, "198.51.100.7"))).toBe("done");
  });

  it("passes on what belongs to others as well, whose links and figures stay", async () => {
    const recording = await sharedRecording(runtime, suri, "Lead flashing");
    const ida = await new Browser(runtime, recording).as("Ida Crake");
    await ida.say({ do: "comment", body: "Which side?", at: 0, until: null });
    expect(await runtime.leaving.partings(suri.id)).toEqual([
      { id: orla.workspaceId, name: "Fenn & Lark", heirs: [{ id: orla.id, name: "Orla Fenn" }], recordings: 1 },
    ]);
    await end(suri, { [orla.workspaceId]: orla.id });
    expect(await at(recording.token)).toBe("open");
    expect((await runtime.access.byToken(recording.token))!.ownerId).toBe(orla.id);
    expect(await runtime.comments.list(recording.id)).toHaveLength(1);
    expect(await runtime.workspaces.people(orla)).toMatchObject([{ name: "Orla Fenn" }]);
  });

  it("leaves what they said at links of others, as of somebody who has left", async () => {
    const recording = await sharedRecording(runtime, orla);
    const said = await new Browser(runtime, recording, suri).visit();
    await said.say({ do: "comment", body: "I would say half an inch.", at: 0, until: null });
    await said.say({ do: "react", kind: "got-it", at: 0 });
    await end(suri, { [orla.workspaceId]: orla.id });
    const [comment] = await runtime.comments.list(recording.id);
    expect(comment).toMatchObject({ body: "I would say half an inch.", name: "Somebody who has left" });
    expect(JSON.stringify(comment)).not.toContain("Suri");
    expect(await runtime.reactions.list(recording.id)).toHaveLength(1);
  });

  it("leaves nobody's workspace without an owner", async () => {
    await end(orla, { [orla.workspaceId]: suri.id });
    expect(await runtime.workspaces.people(suri)).toMatchObject([{ name: "Suri Vale", role: "owner" }]);
  });

  it("is not without the password, and not where those who get it have come or gone", async () => {
    const recording = await sharedRecording(runtime, suri);
    const stranger = await newMember(runtime, "Tom Reed");
    const heirs = { [orla.workspaceId]: orla.id };
    expect(await codeOf(end(suri, heirs, "not this one"))).toBe("wrong-password");
    for (const wrong of [{}, { [orla.workspaceId]: suri.id }, { [orla.workspaceId]: stranger.id }])
      expect(await codeOf(end(suri, wrong))).toBe("no-heir");
    expect([await signIn(suri), await at(recording.token)]).toEqual(["done", "open"]);
    expect((await runtime.access.byToken(recording.token))!.ownerId).toBe(suri.id);
  });

  it("ends nothing that was to pass to somebody who leaves at the same moment", async () => {
    const recording = await sharedRecording(runtime, suri);
    const both = await Promise.all([
      codeOf(end(suri, { [orla.workspaceId]: orla.id })),
      codeOf(end(orla, { [orla.workspaceId]: suri.id })),
    ]);
    expect(both.sort()).toEqual(["done", "no-heir"]);
    expect(await at(recording.token)).toBe("open");
  });

  it("ends sessions, and what else is let in by them", async () => {
    const token = await runtime.sessions.start(suri.id);
    expect((await runtime.sessions.member(token))!.id).toBe(suri.id);
    const secret = await runtime.programs.make(
      suri,
      { name: "Timesheet", scopes: ["read"], days: 30, current: "ridge-vent-and-putty" },
      "10.0.0.1",
    );
    await end(suri, { [orla.workspaceId]: orla.id });
    expect(await runtime.sessions.member(token)).toBeNull();
    expect(await runtime.db.models.Program.count({ where: { personId: suri.id } })).toBe(0);
    expect(secret).toBeTruthy();
  });
});

it.each([
  ["heirs that are none", "heirs", { current: PASSWORD, heirs: '{"2c7a1f2e-1b7b-4a43-9d0b-5e1d6b1c9a10":"b"}' }],
  ["heirs that are no JSON", "heirs", { current: PASSWORD, heirs: "{" }],
  ["no password", "current", { heirs: "{}" }],
])("does not take %s", (_, field, fields) => {
  expect(wrongField(endAccountForm, fields)).toBe(field);
});
