import { mean as d3mean, sum } from "d3-array";
import { mean } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { someSpans } from "../../testing/spans";
import { fold, NOTHING_FOLDED } from "./fold";
import { attentionStrip, playedAgain, recordingFigures, viewerFigures } from "./figures";

const SECOND = 1_000_000;

describe("figures of a recording", () => {
  // Outside check: the same data through d3-array and simple-statistics.
  it("agree with d3-array and simple-statistics on retention, plays and average share", () => {
    const [viewers, length] = [12, 4_000];
    const { viewer, from, to } = someSpans(300, viewers, length, 21);
    viewer.forEach((_, i) => i < viewers && (from[i] = 0) === 0 && (viewer[i] = i) >= 0 && (to[i] = 2_500));
    const figures = recordingFigures(fold(NOTHING_FOLDED, { viewer, from, to }, viewers), length * 1000, {
      points: 80,
    });
    const rows = [...viewer].map((v, i) => ({ v, from: from[i]!, to: to[i]! }));
    const saw = (v: number, ms: number) => rows.some((r) => r.v === v && r.from <= ms && ms < r.to);
    const people = Array.from({ length: viewers }, (_, v) => v);
    for (const point of figures.curve) {
      const ms = point.at / 1000;
      const there = mean(people.map((v) => (saw(v, ms) ? 1 : 0)));
      expect(point.there).toBeCloseTo(there, 10);
      expect(point.again).toBeCloseTo(sum(rows, (r) => (r.from <= ms && ms < r.to ? 1 : 0)) / viewers - there, 10);
    }
    const share = (v: number) => d3mean(Array.from({ length }, (_, ms) => (saw(v, ms) ? 1 : 0)))!;
    expect(figures.averageShare).toBeCloseTo(d3mean(people, share)!, 10);
  });

  it("count by hand-worked cases", () => {
    // A recording of 10 s. Viewer 0 sees all of it; 1 sees 0–4 s, and 2–4 s again; 2 only 1 s, which is no watching.
    const spans = [
      [0, 0, 10_000],
      [1, 0, 4_000],
      [1, 2_000, 4_000],
      [2, 0, 1_000],
    ] as const;
    const columns = {
      viewer: Uint32Array.from(spans, (s) => s[0]),
      from: Uint32Array.from(spans, (s) => s[1]),
      to: Uint32Array.from(spans, (s) => s[2]),
    };
    const folded = fold(NOTHING_FOLDED, columns, 3);
    expect(viewerFigures(folded, 0, 10 * SECOND)).toEqual({
      covered: 10 * SECOND,
      share: 1,
      finished: true,
      watched: true,
      lastSeen: 10 * SECOND,
    });
    expect(viewerFigures(folded, 1, 10 * SECOND)).toMatchObject({
      share: 0.4,
      finished: false,
      watched: true,
      lastSeen: 4 * SECOND,
    });
    expect(viewerFigures(folded, 2, 10 * SECOND).watched).toBe(false);
    const figures = recordingFigures(folded, 10 * SECOND, {
      chapters: [
        { at: 0, title: "Putty" },
        { at: 4 * SECOND, title: "Panes" },
      ],
      points: 10,
    });
    expect([figures.watched, figures.finished, figures.averageShare]).toEqual([2, 1, 0.7]);
    expect(figures.chapters.map((c) => c.share)).toEqual([1, 0.5]);
  });

  it("point to where people leave, play again and do not follow", () => {
    const spans = Array.from({ length: 6 }, (_, v) => [v, 0, v < 4 ? 30_000 : 100_000] as const).flatMap(
      ([v, a, b]) =>
        [
          [v, a, b],
          [v, 20_000, 25_000],
        ] as const,
    );
    const columns = {
      viewer: Uint32Array.from(spans, (s) => s[0]),
      from: Uint32Array.from(spans, (s) => s[1]),
      to: Uint32Array.from(spans, (s) => s[2]),
    };
    const { moments } = recordingFigures(fold(NOTHING_FOLDED, columns, 6), 100 * SECOND, {
      notClear: [61 * SECOND, 62 * SECOND, 5 * SECOND],
    });
    expect(moments.map((m) => m.kind)).toEqual(["again", "not-clear", "leave"]);
    expect(moments[0]!.at / SECOND).toBeGreaterThanOrEqual(20);
    expect(moments[0]!.at / SECOND).toBeLessThan(25);
    expect(moments.slice(1)).toEqual([
      { kind: "not-clear", at: 61 * SECOND, value: 2 },
      { kind: "leave", at: 30 * SECOND, value: 4 },
    ]);
  });

  it("tell what one viewer played again, against a count of every ms", () => {
    const { from, to } = someSpans(40, 1, 3_000, 5);
    const spans = [...from].map((f, i) => ({ from: f * 1000, to: to[i]! * 1000 })).filter((s) => s.to > s.from);
    const count = new Int32Array(3_000);
    for (const s of spans) for (let ms = s.from / 1000; ms < s.to / 1000; ms++) count[ms]!++;
    const again = new Int32Array(3_000);
    for (const r of playedAgain(spans)) again.fill(1, r.from / 1000, r.to / 1000);
    expect([...again]).toEqual([...count].map((n) => (n >= 2 ? 1 : 0)));
  });

  it("are drawn as a strip for lists", () => {
    const curve = [1, 1, 0.5, 0.5, 0, 0].map((there, i) => ({ at: i, there, again: 0 }));
    expect([...attentionStrip(curve, 3)]).toEqual([255, 128, 0]);
    expect([...attentionStrip(curve, 12)]).toHaveLength(12);
    expect([...attentionStrip([], 2)]).toEqual([0, 0]);
  });

  it("of nobody are zero, and nothing divides by nothing", () => {
    const figures = recordingFigures(NOTHING_FOLDED, 0);
    expect([
      figures.watched,
      figures.averageShare,
      figures.curve.every((p) => p.there === 0 && p.again === 0),
      figures.moments,
    ]).toEqual([0, 0, true, []]);
  });
});
