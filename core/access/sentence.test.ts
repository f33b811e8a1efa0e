import { describe, expect, it } from "vitest";
import { sayAudience, sayNames, type ToldAudience } from "./sentence";

const NOW = Date.UTC(2026, 10, 27);
const DAY = 24 * 3600 * 1000;
const day = (at: number) => ["Friday", "Saturday", "Sunday"][Math.round((at - NOW) / DAY)] ?? "long ago";
const say = (told: Partial<ToldAudience>) =>
  sayAudience(
    {
      audience: "anyone",
      named: [],
      folder: null,
      opensAt: null,
      endsAt: null,
      hasPassword: false,
      comments: true,
      downloads: false,
      ...told,
    },
    { workspace: "Fenn & Lark", now: NOW, day },
  );

describe("the sentence of who may open a recording", () => {
  it.each([
    [[], "nobody yet"],
    [["Ida"], "Ida"],
    [["Ida", "Tom"], "Ida and Tom"],
    [["Ida", "Tom", "Wren"], "Ida and 2 others"],
  ])("says %j as %s", (names, said) => expect(sayNames(names)).toBe(said));

  it.each<[Partial<ToldAudience>, string]>([
    [{ audience: "owner", hasPassword: true, endsAt: NOW + DAY }, "Only you"],
    [{ audience: "named" }, "Only you, and nobody named yet"],
    [
      { audience: "named", named: ["a client", "Tom", "Wren"], endsAt: NOW + DAY, hasPassword: true },
      "A client and 2 others, until Saturday, with a password",
    ],
    [{ audience: "workspace" }, "Everybody of Fenn & Lark"],
    [{ audience: "workspace", named: ["Ida"], comments: false }, "Everybody of Fenn & Lark and Ida, without comments"],
    [{ audience: "anyone", downloads: true }, "Anyone with the link, with downloads"],
    [{ audience: "workspace", folder: "Orangery" }, "Everybody of Fenn & Lark and the people of “Orangery”"],
    [{ audience: "folder", folder: "Orangery", named: ["Ida"] }, "The people of “Orangery” and Ida"],
    [{ audience: "folder" }, "Only you: it lies in no folder"],
    [{ audience: "named", folder: "Orangery", named: ["Ida"] }, "Ida"],
    [{}, "Anyone with the link"],
    [{ opensAt: NOW + DAY, endsAt: NOW + 2 * DAY }, "Anyone with the link, from Saturday, until Sunday"],
    [{ opensAt: NOW - DAY }, "Anyone with the link"],
    [{ endsAt: NOW - DAY, opensAt: NOW - 2 * DAY }, "Anyone with the link, but it was open until long ago"],
  ])("%j", (told, said) => expect(say(told)).toBe(said));
});
