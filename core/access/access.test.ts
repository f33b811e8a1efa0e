import { describe, expect, it } from "vitest";
import { may, mayInWorkspace, type Deed, type RecordingFacts, type Subject } from "./access";

const owner: Subject = { id: "o", memberships: [{ workspaceId: "w", role: "member" }] };
const colleague: Subject = { id: "c", memberships: [{ workspaceId: "w", role: "member" }] };
const other: Subject = { id: "x", memberships: [{ workspaceId: "other", role: "member" }] };
const people: [string, Subject][] = [
  ["owner", owner],
  ["colleague", colleague],
  ["member elsewhere", other],
  ["guest", null],
];
const NOW = Date.UTC(2026, 10, 25);
const DAY_MS = 24 * 3600 * 1000;
const recording = (audience: "owner" | "anyone", deletedDaysAgo?: number): RecordingFacts => ({
  ownerId: "o",
  workspaceId: "w",
  audience,
  deletedAt: deletedDaysAgo === undefined ? null : NOW - deletedDaysAgo * DAY_MS,
});

const allowed = (facts: RecordingFacts) =>
  Object.fromEntries(
    (["watch", "list", "change", "restore", "feed"] as Deed[]).map((deed) => [
      deed,
      people.filter(([, p]) => may(p, deed, facts, NOW)).map(([n]) => n),
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
      expect(allowed(recording(audience, 29))).toEqual({
        watch: [],
        list: ["owner"],
        change: [],
        restore: ["owner"],
        feed: [],
      });
    },
  );

  it("a recording that was deleted longer ago than it is kept is nobody's any more", () => {
    const nobody = { watch: [], list: [], change: [], restore: [], feed: [] };
    expect(allowed(recording("anyone", 31))).toEqual(nobody);
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
