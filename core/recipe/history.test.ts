import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import type { Range } from "../time/ranges";
import { lengthOf, type Shown } from "./edits";
import { momentOf } from "./frames";
import { act, begun, changeBetween, changed, doneTo, inverse, parseHistory, redo, shownBy, undo } from "./history";
import { type Deed, type History } from "./history";
import { RecipeError } from "./recipe-error";
import { startOfTake } from "./source-line";

const FRAMES = 60;
const of = (take: number, from: number, to: number): Range => ({
  from: startOfTake(take) + momentOf(from),
  to: startOfTake(take) + momentOf(to),
});
const takes = [of(1, 0, FRAMES), of(2, 0, FRAMES)];
const all: Shown = { kept: takes, dress: {} };

/** Deeds as a hand would do them, many of them without an effect; and what was shown after each. */
function worked(seed: number, deeds: number): { history: History; states: Shown[] } {
  const pick = random(seed);
  let history = begun(all);
  const states = [all];
  for (let n = 0; n < deeds; n++) {
    const from = pick(FRAMES - 1);
    const stretch = of(1 + pick(2), from, from + 1 + pick(Math.min(9, FRAMES - from)));
    const deed: Deed = pick(12) === 0 ? { do: "as-recorded" } : { do: pick(3) ? "leave-out" : "put-back", ...stretch };
    try {
      const next = act(history, states.at(-1)!, deed, takes);
      if (next === history) continue;
      history = next;
      states.push(shownBy(history));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
  return { history, states };
}

describe("what was done", () => {
  it("is undone and done again step by step, through JSON", () => {
    for (let seed = 0; seed < 60; seed++) {
      const { history, states } = worked(seed, 40);
      expect(shownBy(history)).toEqual(states.at(-1));
      let at = states.length - 1;
      let now = history;
      const pick = random(seed + 1000);
      for (let n = 0; n < 120; n++) {
        const back = pick(2) === 0;
        now = back ? undo(now) : redo(now);
        at = back ? Math.max(0, at - 1) : Math.min(states.length - 1, at + 1);
        if (n % 10 === 0) now = parseHistory(JSON.parse(JSON.stringify(now)));
        expect(shownBy(now)).toEqual(states[at]);
      }
    }
  });

  it("has changes that are their own inverse, and as small as they can be", () => {
    for (let seed = 0; seed < 60; seed++) {
      const { history, states } = worked(seed, 40);
      history.done.forEach(({ change, deed }, i) => {
        expect(changed(states[i]!, change)).toEqual(states[i + 1]);
        expect(changed(states[i + 1]!, inverse(change))).toEqual(states[i]);
        // What is told of these is all of the deed.
        const done = deed as Extract<typeof deed, Deed>;
        expect(doneTo(states[i]!, done, takes)).toEqual(states[i + 1]);
        const [gone, come] = [change.removed, change.added];
        expect(
          gone.length === 0 || come.length === 0 || gone[0]!.from !== come[0]!.from || gone[0]!.to !== come[0]!.to,
        ).toBe(true);
      });
    }
    expect(changeBetween(all, all)).toBeNull();
  });

  it("forgets what was undone when something else is done, and nothing else", () => {
    const first = act(begun(all), all, { do: "leave-out", ...of(1, 10, 20) }, takes);
    const back = undo(first);
    expect([back.done, redo(back)]).toEqual([[], first]);
    const other = act(back, shownBy(back), { do: "leave-out", ...of(2, 0, 5) }, takes);
    expect([other.undone, redo(other)]).toEqual([[], other]);
    expect([undo(begun(all)), redo(begun(all))]).toEqual([begun(all), begun(all)]);
    // What changes nothing is no step.
    expect(act(first, shownBy(first), { do: "leave-out", ...of(1, 12, 15) }, takes)).toBe(first);
  });

  it("shows one take alone, as it was shown, or all of one that was not; and takes in another order", () => {
    const cut = act(begun(all), all, { do: "leave-out", ...of(2, 10, 20) }, takes);
    const only = act(cut, shownBy(cut), { do: "only", take: 2 }, takes);
    expect(shownBy(only).kept).toEqual([of(2, 0, 10), of(2, 20, FRAMES)]);
    const first = act(only, shownBy(only), { do: "only", take: 1 }, takes);
    expect(shownBy(first).kept).toEqual([of(1, 0, FRAMES)]);
    expect(shownBy(undo(undo(first)))).toEqual(shownBy(cut));
    const turned = act(cut, shownBy(cut), { do: "order", takes: [2, 1] }, takes);
    expect(shownBy(turned).kept).toEqual([of(2, 0, 10), of(2, 20, FRAMES), of(1, 0, FRAMES)]);
    expect(shownBy(parseHistory(JSON.parse(JSON.stringify(turned))))).toEqual(shownBy(turned));
    for (const takes of [[1], [1, 1], [1, 3]])
      expect(() => act(cut, shownBy(cut), { do: "order", takes }, [...all.kept])).toThrow(RangeError);
    expect(() => act(cut, shownBy(cut), { do: "only", take: 3 }, takes)).toThrow(RangeError);
    for (const deed of [
      { do: "only", take: 0 },
      { do: "order", takes: "2" },
      { do: "order", takes: [1.5] },
    ]) {
      const step = { deed, change: { at: 0, removed: [], added: [] } };
      expect(() => parseHistory({ base: all, done: [step], undone: [] })).toThrow("/done/0/deed");
    }
  });

  it("has what is brought in at its place, for as long as it is wanted", () => {
    const brought = { ...of(3, 0, FRAMES), brought: true };
    const more = [...takes, brought];
    const cut = act(begun(all), all, { do: "leave-out", ...of(1, 10, 20) }, takes);
    const stretches = [of(3, 5, 10), of(3, 30, 40)];
    const at = (place: number | null) =>
      act(cut, shownBy(cut), { do: "bring-in", stretches, at: place === null ? null : momentOf(place) }, more);
    const [head, tail] = [of(1, 0, 10), of(1, 20, FRAMES)];
    expect(shownBy(at(null)).kept).toEqual([head, tail, takes[1], ...stretches]);
    expect(shownBy(at(10)).kept).toEqual([head, ...stretches, tail, takes[1]]);
    expect(shownBy(at(0)).kept).toEqual([...stretches, head, tail, takes[1]]);
    expect(shownBy(at(25)).kept).toEqual([head, of(1, 20, 35), ...stretches, of(1, 35, FRAMES), takes[1]]);
    expect(shownBy(at(9_999)).kept).toEqual(shownBy(at(null)).kept);
    const middle = at(25);
    expect(middle.done.at(-1)!.deed).toEqual({ do: "bring-in", take: 3 });
    expect(parseHistory(JSON.parse(JSON.stringify(middle)))).toEqual(middle);
    expect(shownBy(undo(middle))).toEqual(shownBy(cut));
    // As it was recorded here.
    const reset = act(middle, shownBy(middle), { do: "as-recorded" }, more);
    expect(shownBy(reset).kept).toEqual(takes);
  });

  it("becomes what was published once, as far as that is there, and comes back", () => {
    const cut = act(begun(all), all, { do: "leave-out", ...of(1, 10, 20) }, takes);
    const before: Shown = { kept: [of(2, 5, 30), of(1, 0, 8)], dress: { gains: { microphone: 3 } } };
    const deed = { do: "as-published", revision: 4, shown: before } as const;
    const again = act(cut, shownBy(cut), deed, takes);
    expect(shownBy(again)).toEqual(before);
    expect(again.done.at(-1)!.deed).toEqual({ do: "as-published", revision: 4 });
    expect(parseHistory(JSON.parse(JSON.stringify(again)))).toEqual(again);
    expect(shownBy(undo(again))).toEqual(shownBy(cut));
    // One of its takes was thrown away.
    expect(shownBy(act(cut, shownBy(cut), deed, [takes[0]!])).kept).toEqual([of(1, 0, 8)]);
    expect(() => act(cut, shownBy(cut), deed, [of(3, 0, 9)])).toThrow(RangeError);
    const step = { deed: { do: "as-published", revision: 0 }, change: { at: 0, removed: [], added: [] } };
    expect(() => parseHistory({ base: all, done: [step], undone: [] })).toThrow("/done/0/deed/revision");
  });

  it("never leaves nothing", () => {
    const one = act(begun(all), all, { do: "leave-out", ...takes[0]! }, takes);
    expect(() => act(one, shownBy(one), { do: "leave-out", ...takes[1]! }, takes)).toThrow(RangeError);
  });

  it("is read with every step tried", () => {
    const { history } = worked(7, 30);
    const good = () => JSON.parse(JSON.stringify(history)) as { base: Shown; done: object[]; undone: object[] };
    expect(parseHistory(good())).toEqual(history);
    const wrong: [string, (h: ReturnType<typeof good>) => unknown][] = [
      ["", () => null],
      ["/base", (h) => ({ ...h, base: [] })],
      ["/base/kept", (h) => ({ ...h, base: { kept: [], dress: {} } })],
      ["/base/dress/gains/camera", (h) => ({ ...h, base: { kept: takes, gains: { camera: 1 } } })],
      ["/base/kept/0/to", (h) => ({ ...h, base: { kept: [{ from: 0, to: null }], dress: {} } })],
      ["/done", (h) => ({ ...h, done: {} })],
      ["/done/0", (h) => ({ ...h, done: [{}] })],
      ["/done/0/change/at", (h) => ({ ...h, done: [{ deed: h.done[0], change: { at: -1, removed: [], added: [] } }] })],
      [
        "/done/0/deed/do",
        (h) => ({ ...h, done: [{ deed: { do: "burn" }, change: { at: 0, removed: [], added: [] } }] }),
      ],
      [
        "/done/0",
        (h) => ({
          ...h,
          done: [{ deed: { do: "as-recorded" }, change: { at: 0, removed: [of(2, 3, 4)], added: [] } }],
        }),
      ],
      // Puts in what is there.
      [
        "/done/1",
        (h) => ({
          ...h,
          done: [{ deed: { do: "as-recorded" }, change: { at: 0, removed: [], added: [of(1, 0, 4)] } }],
        }),
      ],
    ];
    for (const [path, spoil] of wrong) {
      const read = () => parseHistory(spoil(good()));
      expect(read).toThrow(RecipeError);
      expect(read).toThrow(path || "a history is an object");
    }
    expect(lengthOf(shownBy(history).kept)).toBeGreaterThan(0);
  });
});
