import { describe, expect, it } from "vitest";
import type { Entry } from "#core/layout/entry";
import { MOST_MARKS, type Mark } from "#core/layout/mark";
import { TakeEntries } from "./take-entries";

const dot = (change: Partial<Mark> = {}): Mark => ({
  tool: "pen",
  colour: "ink",
  path: [0.5, 0.5, 0, 0.6, 0.5, 100],
  text: "",
  staysMs: null,
  clearedAt: null,
  ...change,
});

function rig() {
  const sent: Entry[] = [];
  const clock = { now: 1_000_000 as number | null };
  return {
    sent,
    clock,
    entries: new TakeEntries(
      () => clock.now,
      (entry) => void sent.push(entry),
    ),
  };
}

describe("what is drawn in a take", () => {
  it("is sent as it is drawn, and changed under its own id", () => {
    const { entries, sent, clock } = rig();
    entries.draw(900_000, dot());
    entries.draw(950_000, dot({ staysMs: 1_000 }));
    clock.now = 5_000_000;
    // The second one has gone by itself: it is neither cleared nor taken back.
    entries.clear();
    expect(sent.map((e) => [e.at, e.version, e.kind === "mark" && e.body?.clearedAt])).toEqual([
      [900_000, 1, null],
      [950_000, 1, null],
      [900_000, 2, 5_000_000],
    ]);
    expect(sent[2]!.id).toBe(sent[0]!.id);
    entries.undo();
    expect(sent).toHaveLength(3);
    entries.draw(5_000_000, dot());
    entries.undo();
    expect(sent.at(-1)).toMatchObject({ id: sent[3]!.id, version: 2, body: null });
    expect(entries.snapshot().marks).toHaveLength(2);
  });

  it("is numbered one after the other, from one again when all is cleared", () => {
    const { entries, sent, clock } = rig();
    const texts = () => sent.map((e) => e.kind === "mark" && e.body?.text);
    for (let i = 0; i < 3; i++) entries.draw(clock.now!, dot({ tool: "number" }));
    entries.undo();
    entries.draw(clock.now!, dot({ tool: "number" }));
    expect(texts().filter(Boolean)).toEqual(["1", "2", "3", "3"]);
    entries.clear();
    entries.draw(clock.now!, dot({ tool: "number" }));
    expect(texts().at(-1)).toBe("1");
  });

  it("is no more than a take can have, and nothing where none is under way", () => {
    const { entries, sent, clock } = rig();
    for (let i = 0; i < MOST_MARKS + 2; i++) {
      entries.draw(1, dot());
      if (i % 2) entries.undo();
    }
    expect(new Set(sent.map((e) => e.id)).size).toBe(MOST_MARKS);
    expect(entries.snapshot().full).toBe(true);
    entries.begin();
    expect(entries.snapshot()).toEqual({ marks: [], full: false, notes: [] });
    clock.now = null;
    sent.length = 0;
    entries.draw(1, dot());
    entries.undo();
    entries.clear();
    expect([sent, entries.note({ what: "point", text: "Panes" })]).toEqual([[], null]);
  });
});

describe("what was gone back over", () => {
  const S = 1_000_000;
  it("is not there any more, for whoever goes back again, until it is taken back", () => {
    const { entries, clock } = rig();
    const back = (now: number, since: number) => {
      clock.now = now * S;
      return entries.note({ what: "backed-up", text: "", since: since * S })!;
    };
    const kept = () => entries.kept().map(({ from, to }) => [from / S, to / S]);
    clock.now = 10 * S;
    expect(kept()).toEqual([[0, 10]]);
    back(10, 6);
    clock.now = 20 * S;
    expect(kept()).toEqual([
      [0, 6],
      [10, 20],
    ]);
    // Further back than before, over what was left out already.
    const second = back(20, 4);
    clock.now = 25 * S;
    expect(kept()).toEqual([
      [0, 4],
      [20, 25],
    ]);
    entries.takeBack(second);
    expect(kept()).toEqual([
      [0, 6],
      [10, 25],
    ]);
    entries.note({ what: "mistake", text: "" });
    expect(kept()).toHaveLength(2);
  });
});
