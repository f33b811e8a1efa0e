import { describe, expect, it } from "vitest";
import { AUDIENCES, may, type Audience, type RecordingFacts, type Subject } from "./access";
import { changeOfSight, saySight, type PeopleOfFolder } from "./move";

const person = (id: string, isColleague: boolean) => ({ id, name: id.toUpperCase(), isColleague });
const ALL = [person("orla", true), person("bram", true), person("ida", false), person("tom", false)];
const NOBODY: PeopleOfFolder = { people: [], colleagues: false };
const of = (ids: string[], colleagues = false): PeopleOfFolder => ({
  people: ALL.filter(({ id }) => ids.includes(id)),
  colleagues,
});

describe("who gains and who loses sight by a move", () => {
  it("is as the table says, of each person, for each audience and every two folders", () => {
    const folders = [[], ["bram"], ["ida"], ["bram", "ida"], ["orla", "tom"]].flatMap((ids) => [
      of(ids),
      of(ids, true),
    ]);
    const facts = (audience: Audience, { people, colleagues }: PeopleOfFolder): RecordingFacts => ({
      ...{ id: "r", ownerId: "orla", workspaceId: "w", audience, deletedAt: null, opensAt: null, endsAt: null },
      ...{ password: null, comments: true, downloads: false, named: { people: new Set(), passes: new Set() } },
      folder: { people: new Set(people.map(({ id }) => id)), passes: new Set(), colleagues },
    });
    // Wren is a colleague in no folder: what she gains or loses is what everybody of the workspace does.
    const wren = person("wren", true);
    const sees = (id: string, isColleague: boolean, audience: Audience, folder: PeopleOfFolder) => {
      const subject: Subject = { id, memberships: isColleague ? [{ workspaceId: "w", role: "member" }] : [] };
      return may(subject, "list", facts(audience, folder), 0);
    };
    for (const audience of AUDIENCES)
      for (const from of folders)
        for (const to of folders) {
          const { gains, loses } = changeOfSight([{ from, to, audience, ownerId: "orla", count: 3 }]);
          for (const { id, name, isColleague } of [...ALL, wren]) {
            const [before, after] = [sees(id, isColleague, audience, from), sees(id, isColleague, audience, to)];
            const told = ({ people, colleagues }: typeof gains) =>
              people.some((p) => p.name === name && p.count === 3) ||
              (isColleague && id !== "orla" && colleagues === 3 && !people.some((p) => p.name === name));
            const what = `${name}, ${audience}, ${JSON.stringify({ from, to })}`;
            if (isColleague && gains.colleagues + loses.colleagues > 0) {
              // Told as everybody of the workspace, some of whom saw it before, or see it still.
              if (after && !before) expect(told(gains), what).toBe(true);
              if (before && !after) expect(told(loses), what).toBe(true);
              continue;
            }
            expect([told(gains), told(loses)], what).toEqual([after && !before, before && !after]);
          }
        }
  });

  it("adds up over several places, and names a colleague only where it is more than everybody's", () => {
    const parts = [
      { from: NOBODY, to: of(["bram", "ida"], true), audience: "folder" as const, ownerId: "orla", count: 2 },
      { from: of(["tom"]), to: of(["bram", "ida"]), audience: "folder" as const, ownerId: "orla", count: 1 },
      { from: of(["tom"]), to: of(["ida"]), audience: "anyone" as const, ownerId: "orla", count: 4 },
      { from: of(["tom"]), to: of(["ida"]), audience: "owner" as const, ownerId: "orla", count: 9 },
    ];
    expect(changeOfSight(parts)).toEqual({
      gains: {
        people: [
          { name: "BRAM", count: 3 },
          { name: "IDA", count: 7 },
        ],
        colleagues: 2,
      },
      loses: { people: [{ name: "TOM", count: 5 }], colleagues: 0 },
    });
  });
});

it("is said in words, with how many where it is not all of them", () => {
  const say = (counts: number[], colleagues = 0) =>
    saySight({ people: counts.map((count, i) => ({ name: "ABCDEFG"[i]!, count })), colleagues }, "Fenn & Lark", 3);
  expect(say([])).toBeNull();
  expect(say([3])).toBe("A");
  expect(say([3, 1])).toBe("A and B (1 of them)");
  expect(say([], 3)).toBe("everybody of Fenn & Lark");
  expect(say([3, 3, 3, 3, 3])).toBe("A, B, C, D and E");
  expect(say([3, 3, 3, 3, 3, 3], 2)).toBe("A, B, C, D, 2 others and everybody of Fenn & Lark (2 of them)");
});
