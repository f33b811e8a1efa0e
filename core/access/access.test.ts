import { describe, expect, it } from "vitest";
import {
  AUDIENCES,
  doorOf,
  may,
  mayInWorkspace,
  TABLE,
  type Audience,
  type Deed,
  type RecordingFacts,
  type Subject,
} from "./access";

const NOW = Date.UTC(2026, 10, 25);
const DAY_MS = 24 * 3600 * 1000;
const member = (id: string, workspaceId: string, passes: NonNullable<Subject>["passes"] = []): Subject => ({
  id,
  memberships: [{ workspaceId, role: "member" }],
  passes,
});
const guest = (passes: NonNullable<Subject>["passes"]): Subject => ({ id: null, memberships: [], passes });
const link = { to: "r", by: "invite", of: "of-ida" } as const;
const word = { to: "r", by: "password", of: "word" } as const;

const key = { to: "f", by: "folder", of: "of-maud" } as const;

const owner = member("o", "w");
/** Everybody who could ask, and what each would have to be told, as it is said in words. */
const people: [string, Subject][] = [
  ["owner", owner],
  ["colleague", member("c", "w")],
  ["named colleague", member("n", "w")],
  ["named outside", member("m", "other")],
  ["colleague of the folder", member("i", "w")],
  ["client of the folder", member("j", "other")],
  ["member elsewhere", member("x", "other")],
  ["bearer of the folder", guest([key])],
  ["bearer of the folder with the password", guest([key, word])],
  ["bearer of a closed link of the folder", guest([{ ...key, of: "closed" }])],
  [
    "bearer who shows a link as one of the folder",
    guest([
      { ...link, by: "folder" },
      { ...key, to: "r", by: "invite" },
    ]),
  ],
  ["bearer", guest([link])],
  ["bearer with the password", guest([link, word])],
  ["bearer of a closed link", guest([{ ...link, of: "closed" }])],
  ["bearer at another recording", guest([{ ...link, to: "q" }])],
  ["guest with the password", guest([word])],
  ["guest with an old password", guest([{ ...word, of: "old" }])],
  ["guest who shows a password as a link", guest([{ ...word, by: "invite" }])],
  ["guest", null],
];
const recording = (audience: Audience, more: Partial<RecordingFacts> = {}): RecordingFacts => ({
  id: "r",
  ownerId: "o",
  workspaceId: "w",
  audience,
  deletedAt: null,
  opensAt: null,
  endsAt: null,
  password: null,
  comments: true,
  downloads: false,
  named: { people: new Set(["n", "m"]), passes: new Set(["of-ida", "of-tom"]) },
  folder: { people: new Set(["i", "j"]), passes: new Set(["of-maud"]), colleagues: false },
  ...more,
});
const who = (deed: Deed, facts: RecordingFacts) => people.filter(([, p]) => may(p, deed, facts, NOW)).map(([n]) => n);
const everybody = people.map(([name]) => name);
const named = ["named colleague", "named outside"];
const bearers = ["bearer", "bearer with the password"];
const inFolder = ["colleague of the folder", "client of the folder"];
const folderBearers = ["bearer of the folder", "bearer of the folder with the password"];
const sorted = (names: string[]) => [...names].sort();
const ALONE = ["change", "feed", "figures"] as const;

describe("access", () => {
  it("a draft is its owner's alone, whoever is named", () => {
    for (const deed of Object.keys(TABLE) as Deed[])
      expect(who(deed, recording("owner")), deed).toEqual(deed === "restore" ? [] : ["owner"]);
  });

  it.each<[Audience, string[]]>([
    ["named", ["owner", ...named, ...bearers]],
    ["folder", ["owner", ...named, ...inFolder, ...bearers, ...folderBearers]],
    ["workspace", ["owner", "colleague", ...named, ...inFolder, ...bearers, ...folderBearers]],
    ["anyone", everybody],
  ])("what is for %s is watched, answered and commented by these people alone", (audience, expected) => {
    for (const deed of ["watch", "answer", "comment"] as const)
      expect(sorted(who(deed, recording(audience))), deed).toEqual(sorted(expected));
    for (const deed of ALONE) expect(who(deed, recording(audience))).toEqual(["owner"]);
    expect(who("restore", recording(audience))).toEqual([]);
  });

  it("each audience lets in whom the one before it does", () => {
    const seen = AUDIENCES.map((audience) => who("watch", recording(audience)));
    for (const [i, some] of seen.entries()) expect(seen[i + 1] ?? everybody).toEqual(expect.arrayContaining(some));
  });

  it("is listed for those who are known by their account, and not for those who hold a link", () => {
    expect(who("list", recording("named"))).toEqual(["owner", ...named]);
    expect(who("list", recording("folder"))).toEqual(["owner", ...named, ...inFolder]);
    expect(who("list", recording("workspace"))).toEqual(["owner", "colleague", ...named, ...inFolder]);
    expect(who("list", recording("anyone"))).toEqual(["owner", "colleague", ...named, ...inFolder]);
  });

  it("a password is asked of all who are not known by their account, and only the one that is set now opens", () => {
    const withWord = { password: "word" };
    expect(who("watch", recording("anyone", withWord))).toEqual([
      "owner",
      "colleague",
      ...named,
      ...inFolder,
      "bearer of the folder with the password",
      "bearer with the password",
      "guest with the password",
    ]);
    expect(who("watch", recording("named", withWord))).toEqual(["owner", ...named, "bearer with the password"]);
  });

  it("outside its time only its owner is let in", () => {
    for (const shut of [{ opensAt: NOW + 1 }, { endsAt: NOW }, { opensAt: NOW - 2, endsAt: NOW - 1 }])
      for (const deed of ["watch", "answer", "comment", "list"] as const)
        expect(who(deed, recording("anyone", shut)), JSON.stringify(shut)).toEqual(["owner"]);
    expect(who("watch", recording("anyone", { opensAt: NOW, endsAt: NOW + 1 }))).toEqual(everybody);
  });

  it("where comments are not taken, everything else is", () => {
    const quiet = recording("anyone", { comments: false });
    expect(who("comment", quiet)).toEqual(["owner"]);
    expect(who("answer", quiet)).toEqual(everybody);
  });

  it("only where its owner allows it others have it as a file", () => {
    for (const audience of AUDIENCES) {
      expect(who("download", recording(audience))).toEqual(["owner"]);
      const open = recording(audience, { downloads: true });
      expect(who("download", open)).toEqual(who("watch", open));
    }
    expect(who("download", recording("anyone", { downloads: true, endsAt: NOW }))).toEqual(["owner"]);
  });

  it.each(AUDIENCES)("a deleted recording (%s) only can be brought back by its owner", (audience) => {
    const deleted = recording(audience, { deletedAt: NOW - 29 * DAY_MS });
    for (const deed of Object.keys(TABLE) as Deed[])
      expect(who(deed, deleted), deed).toEqual(deed === "restore" || deed === "list" ? ["owner"] : []);
  });

  it("a recording that was deleted longer ago than it is kept is nobody's any more", () => {
    const gone = recording("anyone", { deletedAt: NOW - 31 * DAY_MS });
    for (const deed of Object.keys(TABLE) as Deed[]) expect(who(deed, gone), deed).toEqual([]);
  });

  it("tells why a link is closed only to those whom it would open to", () => {
    const doors = (facts: RecordingFacts) =>
      Object.fromEntries(people.map(([name, p]) => [name, doorOf(p, facts, NOW)]).filter(([, d]) => d !== "nothing"));
    expect(doors(recording("owner", { password: "word" }))).toEqual({ owner: "open" });
    expect(doors(recording("named", { password: "word", endsAt: NOW - 1 }))).toEqual({
      owner: "open",
      "named colleague": "over",
      "named outside": "over",
      bearer: "over",
      "bearer with the password": "over",
    });
    expect(doors(recording("named", { password: "word" }))).toMatchObject({
      bearer: "password",
      "bearer with the password": "open",
    });
    expect(doors(recording("anyone", { opensAt: NOW + 1 }))).toMatchObject({ guest: "not-yet", colleague: "not-yet" });
    expect(doors(recording("anyone", { password: "word" }))).toMatchObject({
      guest: "password",
      "guest with an old password": "password",
      "guest with the password": "open",
    });
    expect(doors(recording("anyone", { deletedAt: NOW - 1 }))).toEqual({});
  });

  it("opens a door for exactly those who may watch", () => {
    const times = [null, NOW - 1, NOW, NOW + 1];
    for (const audience of AUDIENCES)
      for (const opensAt of times)
        for (const endsAt of times)
          for (const deletedAt of [null, NOW - 1])
            for (const password of [null, "word"])
              for (const [name, p] of people) {
                const facts = recording(audience, { opensAt, endsAt, deletedAt, password });
                expect(doorOf(p, facts, NOW) === "open", name).toBe(may(p, "watch", facts, NOW));
              }
  });

  it("a folder that is open to the workspace lets in its colleagues, and nobody of a named one", () => {
    const open = { folder: { people: new Set<string>(), passes: new Set<string>(), colleagues: true } };
    expect(who("list", recording("folder", open))).toEqual([
      ...["owner", "colleague", "named colleague", "named outside", "colleague of the folder"],
    ]);
    expect(who("list", recording("named", open))).toEqual(["owner", ...named]);
  });

  it("somebody of several workspaces is a colleague in each of them", () => {
    const both: Subject = {
      id: "b",
      memberships: [
        { workspaceId: "v", role: "owner" },
        { workspaceId: "w", role: "member" },
      ],
    };
    expect(may(both, "list", recording("anyone"), NOW)).toBe(true);
    expect(may(both, "list", { ...recording("anyone"), workspaceId: "x" }, NOW)).toBe(false);
    expect(mayInWorkspace(both, "manage", "v")).toBe(true);
    expect(mayInWorkspace(both, "manage", "w")).toBe(false);
    expect(mayInWorkspace(both, "use", "w")).toBe(true);
    expect(mayInWorkspace(null, "use", "w")).toBe(false);
  });
});
