import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Player } from "./player";
import type { PlayerState } from "./player-state";
import { SpanReporter } from "./reporter";

const S = 1_000_000;
type Report = { batch: string; spans: { from: number; to: number; rate: number }[] };

/** A browser's few things that the reporter needs. @param pathname of its page */
function rig(pathname = "/w/link") {
  const asked: { url: string; key: string | undefined }[] = [];
  vi.stubGlobal("location", { pathname });
  const kept = new Map<string, string>();
  const posted: Report[] = [];
  const beacons: Blob[] = [];
  const answers: (() => Promise<Response>)[] = [];
  const events = { document: new EventTarget(), window: new EventTarget() };
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
  });
  vi.stubGlobal(
    "document",
    Object.assign(events.document, { hidden: false, visibilityState: "visible", readyState: "complete" }),
  );
  vi.stubGlobal("window", events.window);
  vi.stubGlobal("navigator", { sendBeacon: (_: string, body: Blob) => (beacons.push(body), true) });
  vi.stubGlobal("fetch", async (url: string, { body, headers }: { body: string; headers: Record<string, string> }) => {
    asked.push({ url, key: headers["clear-nod-guest"] });
    posted.push(JSON.parse(body) as Report);
    return (answers.shift() ?? (async () => new Response()))();
  });
  let listener = () => {};
  const state = { time: 0, playing: true, waiting: false, rate: 1, muted: false, volume: 1, seeks: 0 } as PlayerState;
  const player = {
    subscribe: (l: () => void) => ((listener = l), () => undefined),
    snapshot: () => state,
  } as unknown as Player;
  const meet = vi.fn(async () => undefined);
  const look = (change: Partial<PlayerState>) => (Object.assign(state, change), listener());
  const play = (from: number, to: number) => {
    for (let t = from; t <= to; t += 0.5) look({ time: t * S, playing: true });
  };
  return {
    kept,
    asked,
    posted,
    beacons,
    answers,
    events,
    look,
    play,
    reporter: new SpanReporter("link", player, meet),
    meet,
  };
}

const spansOf = (reports: Report[]) => reports.flatMap((r) => r.spans.map((s) => [s.from / S, s.to / S, s.rate]));

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("reporting what was played", () => {
  it("waits until the server knows this browser, and leaves out what was skipped", async () => {
    const { reporter, posted, play, look } = rig();
    play(0, 4);
    look({ time: 6 * S, seeks: 1 });
    play(6, 8);
    look({ playing: false });
    expect(posted).toEqual([]);
    reporter.begin();
    await vi.advanceTimersByTimeAsync(10);
    expect(spansOf(posted)).toEqual([
      [0, 4, 1],
      [6, 8, 1],
    ]);
  });

  it("offers a batch again under the same name until it is taken, and keeps it in the browser meanwhile", async () => {
    const { reporter, posted, answers, kept, play, look } = rig();
    reporter.begin();
    answers.push(
      async () => Promise.reject(new TypeError("no network")),
      async () => new Response("", { status: 503 }),
    );
    play(0, 3);
    look({ playing: false });
    await vi.advanceTimersByTimeAsync(10);
    expect(kept.size).toBe(1);
    await vi.advanceTimersByTimeAsync(17_000);
    expect(posted).toHaveLength(3);
    expect(new Set(posted.map((p) => p.batch)).size).toBe(1);
    expect(kept.size).toBe(0);
  });

  it("does not offer again what the server refuses for good", async () => {
    const { reporter, posted, answers, kept, play, look } = rig();
    reporter.begin();
    answers.push(async () => new Response("", { status: 422 }));
    play(0, 3);
    look({ playing: false });
    await vi.advanceTimersByTimeAsync(20_000);
    expect([posted.length, kept.size]).toEqual([1, 0]);
  });

  it("makes this browser known again, once, where it has become another guest", async () => {
    const { reporter, posted, answers, kept, meet, play, look } = rig();
    reporter.begin();
    answers.push(
      async () => new Response("", { status: 409 }),
      async () => new Response(""),
      async () => new Response("", { status: 409 }),
      async () => new Response("", { status: 409 }),
    );
    play(0, 3);
    look({ playing: false });
    await vi.advanceTimersByTimeAsync(10);
    expect([posted.length, kept.size, meet.mock.calls.length]).toEqual([2, 0, 1]);
    play(3, 6);
    look({ playing: false });
    await vi.advanceTimersByTimeAsync(20_000);
    expect([posted.length, kept.size, meet.mock.calls.length]).toEqual([4, 0, 2]);
  });

  it("sends everything by beacon when the page is left, and keeps it, because a beacon does not answer", async () => {
    const { reporter, beacons, events, kept, play } = rig();
    reporter.begin();
    play(0, 3);
    events.window.dispatchEvent(new Event("pagehide"));
    expect(spansOf([JSON.parse(await beacons[0]!.text()) as Report])).toEqual([[0, 3, 1]]);
    expect(kept.size).toBe(1);
  });

  it("counts nothing in a hidden page without sound", async () => {
    const { reporter, posted, play, look } = rig();
    reporter.begin();
    (document as { hidden: boolean }).hidden = true;
    look({ muted: true });
    play(0, 5);
    look({ playing: false });
    await vi.advanceTimersByTimeAsync(10);
    expect(posted).toEqual([]);
  });

  it("goes by the doors of embeds in one, with the key that it keeps, also when the page is left", async () => {
    const { reporter, kept, asked, beacons, events, play, look } = rig("/e/link");
    kept.set("clear-nod-guest", "a-key");
    play(0, 2);
    look({ playing: false });
    reporter.begin();
    await vi.advanceTimersByTimeAsync(1);
    play(2, 4);
    events.window.dispatchEvent(new Event("pagehide"));
    await vi.advanceTimersByTimeAsync(1);
    expect(asked).toEqual(Array(2).fill({ url: "/e/link/spans", key: "a-key" }));
    expect(beacons).toEqual([]);
  });
});
