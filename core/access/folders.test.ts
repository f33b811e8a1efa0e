import { expect, it } from "vitest";
import type { MemberRole, Subject } from "./access";
import { mayInFolder, rightIn, type FolderDeed, type FolderFacts } from "./folders";

const someone = (id: string | null, workspaceId: string | null, role: MemberRole = "member", of?: string): Subject => ({
  id,
  memberships: workspaceId ? [{ workspaceId, role }] : [],
  passes: of ? [{ by: "folder", to: "f", of }] : [],
});
const people: [string, Subject][] = [
  ["owner of the workspace", someone("o", "w", "owner")],
  ["manager", someone("m", "w")],
  ["adder", someone("a", "w")],
  ["viewer", someone("v", "w")],
  ["colleague", someone("c", "w")],
  ["colleague with a link", someone("c", "w", "member", "open")],
  ["client", someone("v", "other", "owner")],
  ["manager who has left", someone("m", "other", "owner")],
  ["member elsewhere", someone("x", "other", "owner")],
  ["bearer", someone(null, null, "member", "open")],
  ["bearer of a closed link", someone(null, null, "member", "closed")],
  ["guest", null],
];
const folder = (more: Partial<FolderFacts> = {}): FolderFacts => ({
  id: "f",
  workspaceId: "w",
  path: ["f"],
  colleagues: null,
  people: { view: new Set(["v"]), add: new Set(["a"]), manage: new Set(["m"]) },
  passes: new Set(["open"]),
  ...more,
});
const who = (deed: FolderDeed, facts: FolderFacts) =>
  people.filter(([, p]) => mayInFolder(p, deed, facts)).map(([name]) => name);

it("is seen by its people, filled by those who may add, and managed by managers and the workspace's owners", () => {
  const [manage, add] = [
    ["owner of the workspace", "manager"],
    ["owner of the workspace", "manager", "adder"],
  ];
  expect(who("manage", folder())).toEqual(manage);
  expect(who("add", folder())).toEqual(add);
  // Whoever has left the workspace may still look where they are named; by leaving they are named no more.
  expect(who("see", folder())).toEqual([
    ...[...add, "viewer", "colleague with a link", "client", "manager who has left", "bearer"],
  ]);
});

it("can be open to everybody of the workspace, and to nobody else by that", () => {
  const outside = ["client", "manager who has left", "bearer"];
  const inside = people.slice(0, 6).map(([name]) => name);
  expect(who("see", folder({ colleagues: "view" }))).toEqual([...inside, ...outside]);
  expect(who("add", folder({ colleagues: "view" }))).toEqual(who("add", folder()));
  expect(who("add", folder({ colleagues: "add" }))).toEqual(inside);
  expect(who("manage", folder({ colleagues: "add" }))).toEqual(who("manage", folder()));
});

it("takes the most of what somebody may by several of these", () => {
  const both = folder({
    colleagues: "add",
    people: { view: new Set(["v", "m"]), add: new Set(), manage: new Set(["m"]) },
  });
  expect(rightIn(someone("m", "w"), both)).toBe("manage");
  expect(rightIn(someone("v", "w"), both)).toBe("add");
  expect(rightIn(someone("v", "other"), both)).toBe("view");
  expect(rightIn(null, both)).toBeNull();
});
