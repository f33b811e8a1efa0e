import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { AUDIENCES, may, TABLE, type Deed, type Subject } from "#core/access/access";
import { maySql } from "#core/access/access-sql";
import { colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let people: [string, SignedIn | null][];
const DELETED = [null, 0, 29, 31];

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  const orla = await newMember(runtime);
  people = [
    ["the sender", orla],
    ["a colleague", await colleagueOf(runtime, orla)],
    ["somebody elsewhere", await newMember(runtime, "Ida Crake")],
    ["a guest", null],
  ];
  for (const audience of AUDIENCES) {
    for (const days of DELETED) {
      const title = `${audience} ${days}`;
      const { recordingId } = await runtime.takes.start(orla, { source: "voice", title, audience });
      if (days === null) continue;
      const deletedAt = new Date(Date.now() - days * 24 * 3600 * 1000);
      await runtime.db.models.Recording.update({ deletedAt }, { where: { id: recordingId } });
    }
  }
});
afterAll(() => runtime.close());

const deeds = Object.keys(TABLE) as Deed[];
it.each(deeds)(
  "%s is allowed by the table and by its SQL form to the same people, for every recording",
  async (deed) => {
    const all = await runtime.db.models.Recording.findAll();
    expect(all.length).toBe(AUDIENCES.length * DELETED.length);
    for (const [who, member] of people) {
      const subject: Subject = member;
      const byTable = all.filter(({ ownerId, workspaceId, audience, deletedAt }) =>
        may(
          subject,
          deed,
          { ownerId, workspaceId, audience: audience!, deletedAt: deletedAt?.getTime() ?? null },
          Date.now(),
        ),
      );
      const bySql = await runtime.db.rows<{ title: string }>(
        `select r.title from recordings r where ${maySql(deed, { person: "$1::uuid", workspaces: "$2::uuid[]" })}
          and ($1::uuid is null or true) and ($2::uuid[] is null or true)`,
        [member?.id ?? null, member?.memberships.map((m) => m.workspaceId) ?? []],
      );
      expect(bySql.map((r) => r.title).sort(), who).toEqual(byTable.map((r) => r.title).sort());
    }
  },
);
