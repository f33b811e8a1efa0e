import { describe, expect, it } from "vitest";
import { may, type Deed, type Person, type RecordingFacts } from "./access";

const owner: Person = { id: "o", workspaceId: "w" };
const colleague: Person = { id: "c", workspaceId: "w" };
const other: Person = { id: "x", workspaceId: "other" };
const people: [string, Person][] = [
  ["owner", owner],
  ["colleague", colleague],
  ["member elsewhere", other],
  ["guest", null],
];
const recording = (audience: "owner" | "anyone", deleted = false): RecordingFacts => ({
  ownerId: "o",
  workspaceId: "w",
  audience,
  deleted,
});

const allowed = (facts: RecordingFacts) =>
  Object.fromEntries(
    (["watch", "list", "change", "restore", "feed"] as Deed[]).map((deed) => [
      deed,
      people.filter(([, p]) => may(p, deed, facts)).map(([n]) => n),
    ]),
  );

describe("access", () => {
  it("a draft is its owner's alone", () => {
    expect(allowed(recording("owner"))).toEqual({
      watch: ["owner"],
      list: ["owner"],
      change: ["owner"],
      restore: [],
      feed: ["owner"],
    });
  });

  it("a shared recording can be watched by anyone and changed by its owner", () => {
    expect(allowed(recording("anyone"))).toEqual({
      watch: ["owner", "colleague", "member elsewhere", "guest"],
      list: ["owner", "colleague"],
      change: ["owner"],
      restore: [],
      feed: ["owner"],
    });
  });

  it.each(["owner", "anyone"] as const)(
    "a deleted recording (%s) only can be brought back by its owner",
    (audience) => {
      expect(allowed(recording(audience, true))).toEqual({
        watch: [],
        list: ["owner"],
        change: [],
        restore: ["owner"],
        feed: [],
      });
    },
  );
});
