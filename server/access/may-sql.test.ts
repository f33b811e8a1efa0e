import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { AUDIENCES, may, TABLE, type Deed, type Subject } from "#core/access/access";
import { maySql } from "#core/access/access-sql";
import { colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let people: [string, Subject][];
const DAY_MS = 24 * 3600 * 1000;
const inDays = (days: number | null) => (days === null ? null : new Date(Date.now() + days * DAY_MS));
/** When it was deleted, opens and ends, in days from now; with a password; without comments; with downloads. */
const VARIANTS = [
  {},
  { deletedAt: 0 },
  { deletedAt: -29 },
  { deletedAt: -31 },
  { opensAt: 1 },
  { opensAt: -1, endsAt: 1 },
  { endsAt: -1 },
  { password: true },
  { comments: false },
  { password: true, comments: false, endsAt: 2 },
  { password: true, deletedAt: -1 },
  { downloads: true },
  { downloads: true, comments: false, password: true },
];

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  const orla = await newMember(runtime);
  const bram = await colleagueOf(runtime, orla);
  const ida = await newMember(runtime, "Ida Crake");
  // One folder in another one: people of both, and recordings in the inner one.
  const outer = await runtime.folders.make(orla, { name: "Roof", parentId: null });
  const inner = await runtime.folders.make(orla, { name: "Vents", parentId: outer });
  const inFolder = await colleagueOf(runtime, orla, "Odo Marsh");
  const client = await newMember(runtime, "Hester Quill");
  const who = `${inFolder.email}, Hester Quill, Maud Thorne`;
  await runtime.folderPeople.add(orla, outer, { who, may: "view" }, "198.51.100.7");
  const { FolderPerson } = runtime.db.models;
  await FolderPerson.update({ personId: client.id }, { where: { folderId: outer, name: "Hester Quill" } });
  const bearerOf = async (name: string): Promise<Subject> => {
    const { key } = (await FolderPerson.findOne({ where: { folderId: outer, name } }))!;
    return { id: null, memberships: [], passes: [(await runtime.doors.personal(key)).pass] };
  };
  const other = { by: "folder", to: inner, of: randomUUID() } as const;
  people = [
    ["the sender", orla],
    ["a colleague", bram],
    ["a colleague who is named", await colleagueOf(runtime, orla, "Wren Alder")],
    ["somebody elsewhere", await newMember(runtime, "Tom Reed")],
    ["somebody elsewhere who is named", ida],
    ["a colleague in the folder", inFolder],
    ["somebody elsewhere in the folder", client],
    ["a guest with a link to the folder", await bearerOf("Maud Thorne")],
    ["a guest with a link to another folder", { id: null, memberships: [], passes: [other] }],
    ["a guest", null],
  ];
  const { Recording, Invite } = runtime.db.models;
  for (const audience of AUDIENCES)
    for (const [i, variant] of VARIANTS.entries()) {
      const title = `${audience} ${i}`;
      const take = await runtime.takes.start(orla, { source: "voice", title, audience: "owner" });
      const {
        deletedAt = null,
        opensAt = null,
        endsAt = null,
        password,
        comments,
        downloads = false,
      } = { comments: true, ...variant } as {
        deletedAt?: number;
        opensAt?: number;
        endsAt?: number;
        password?: boolean;
        comments: boolean;
        downloads?: boolean;
      };
      const id = take.recordingId;
      const locked = password ? { passwordHash: "…", passwordId: randomUUID() } : {};
      const times = { deletedAt: inDays(deletedAt), opensAt: inDays(opensAt), endsAt: inDays(endsAt) };
      // Half of them lie in the folder.
      const folderId = i % 2 === 0 ? inner : null;
      await Recording.update({ ...times, ...locked, comments, downloads, folderId, audience }, { where: { id } });
      for (const [, person] of [people[2]!, people[4]!])
        await Invite.create({
          id: randomUUID(),
          recordingId: id,
          name: "Somebody",
          email: null,
          personId: person!.id,
          key: randomUUID(),
        });
    }
});
afterAll(() => runtime.close());

const SUBJECT = { person: "$1::uuid", workspaces: "$2::uuid[]", folderPasses: "$3::uuid[]" };
const deeds = Object.keys(TABLE) as Deed[];
it.each(deeds)(
  "%s is allowed by the table and by its SQL form to the same people, for every recording",
  async (deed) => {
    const all = await runtime.db.models.Recording.findAll();
    expect(all.length).toBe(AUDIENCES.length * VARIANTS.length);
    const facts = await Promise.all(all.map(async ({ id, title }) => ({ title, ...(await runtime.access.byId(id))! })));
    for (const [who, member] of people) {
      const byTable = facts.filter((known) => may(member, deed, known, Date.now()));
      const bySql = await runtime.db.rows<{ title: string }>(
        `select r.title from recordings r where ${maySql(deed, SUBJECT)}
          and ($1::uuid is null or true) and ($2::uuid[] is null or true) and ($3::uuid[] is null or true)`,
        [
          member?.id ?? null,
          member?.memberships.map((m) => m.workspaceId) ?? [],
          member?.passes?.map(({ of }) => of) ?? [],
        ],
      );
      expect(bySql.map((r) => r.title).sort(), who).toEqual(byTable.map((r) => r.title).sort());
    }
  },
);
