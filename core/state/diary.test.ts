import { expect, it } from "vitest";
import { Diary } from "./diary";

it("keeps the last things that were done, and counts what was done over and over", () => {
  let now = 0;
  const diary = new Diary([], 3, () => now++);
  diary.note("phase", { phase: "asking" });
  for (let n = 0; n < 4; n++) diary.note("hold", { hold: "offline" });
  diary.note("phase", { phase: "recording" });
  diary.note("hold", { hold: "offline" });
  expect(diary.entries.map(({ what, more, again }) => [what, ...Object.values(more!), again])).toEqual([
    ["hold", "offline", 3],
    ["phase", "recording", undefined],
    ["hold", "offline", undefined],
  ]);
  expect(diary.entries[0]!.at).toBe("1970-01-01T00:00:00.001Z");
});

it("goes on with what was kept", () => {
  const first = new Diary();
  first.note("one");
  const next = new Diary(JSON.parse(JSON.stringify(first.entries)) as Diary["entries"]);
  next.note("one");
  next.note("two");
  expect(next.entries.map(({ what, again }) => [what, again])).toEqual([
    ["one", 1],
    ["two", undefined],
  ]);
});
