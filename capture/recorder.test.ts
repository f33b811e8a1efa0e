import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Entry } from "#core/layout/entry";
import type { TrackKind } from "#core/media/tracks";
import { gate } from "../testing/gate";
import { keptTake } from "../testing/store";
import type { NewTake } from "./attempt";
import { explain } from "./devices";
import type { EngineLike, EngineListener } from "./engine/engine";
import type { Sender } from "./outbox/sender";
import type { KeptTake } from "./outbox/store";
import type { Choice, RecorderParts } from "./recorder-state";
import { Recorder } from "./recorder";

/** A track as the browser gives it, that can be ended as by its owner. */
class Track extends EventTarget {
  readyState: "live" | "ended" = "live";
  getSettings = (): MediaTrackSettings => ({ displaySurface: "window", deviceId: "one" });
  stop() {
    this.readyState = "ended";
  }
  end() {
    this.stop();
    this.dispatchEvent(new Event("ended"));
  }
}
const asTrack = (track: Track) => track as unknown as MediaStreamTrack;

/** Everything a recorder works with, each step of which waits until the test lets it go on. */
function rig() {
  const screen = new Track();
  const camera = new Track();
  const microphone = new Track();
  const gates = {
    screen: gate(),
    sources: gate(),
    server: gate(),
    disk: gate(),
  };
  const engine = {
    started: 0,
    stopped: 0,
    aborted: 0,
    replaced: [] as (readonly [TrackKind, MediaStreamTrack])[],
    turned: [] as [string, number][],
  };
  /** what the browser's own window gives, one after the other */
  const surfaces = [screen];
  let told: EngineListener;
  const starts: (number | null)[] = [];
  const thrownAway: string[] = [];
  const salvaged: string[] = [];
  const finished: object[] = [];
  const entries: Entry[] = [];
  const adds: { kind: TrackKind; number: number }[] = [];
  let add: () => Promise<void> = async () => undefined;
  const sender = {
    add: (kind: TrackKind, number: number) => (adds.push({ kind, number }), add()),
    finish: async (expected: object) => void finished.push(expected),
    note: async () => undefined,
    write: async (entry: Entry) => void entries.push(entry),
  };
  const parts: RecorderParts = {
    openScreen: async () => {
      await gates.screen.promise;
      const next = surfaces.shift();
      if (!next) throw explain("screen", new DOMException("", "NotAllowedError"));
      return { screen: asTrack(next), sound: null };
    },
    makeEngine: (_sources, _wishes, listener): EngineLike => {
      told = listener;
      return {
        ready: gates.sources.promise,
        start: (limit) => (starts.push(limit), engine.started++, performance.timeOrigin + performance.now()),
        pause: () => performance.timeOrigin + performance.now(),
        resume: () => performance.timeOrigin + performance.now(),
        turn: (kind, gain) => void engine.turned.push([kind, gain]),
        recall: async () => ({ voice: null, glimpses: [] }),
        replace: (kind, track) => void engine.replaced.push([kind, track]),
        stop: async () => (engine.stopped++, { expected: { screen: 1 }, duration: 1 }),
        abort: () => void engine.aborted++,
      };
    },
    startTake: async () => {
      await gates.server.promise;
      return keptTake() as NewTake;
    },
    outbox: {
      open: async () => {
        await gates.disk.promise;
        return sender as unknown as Sender;
      },
      throwAway: async (take: KeptTake) => void thrownAway.push(take.takeId),
      salvage: async (takeId: string) => void salvaged.push(takeId),
    },
  };
  const wake = gate();
  const wakes: number[] = [];
  parts.wakeAt = (at) => (wakes.push(at), wake.promise);
  const recorder = new Recorder(parts);
  const choice: Choice = {
    source: "screen-camera",
    takeOf: null,
    title: "Ridge",
    description: "",
    tags: [],
    audience: "owner",
    folder: null,
    ask: { kind: "nothing", question: "", choices: [], due: null, zone: "UTC" },
    camera: asTrack(camera),
    microphone: asTrack(microphone),
    gains: { microphone: 1, sound: 0.5 },
    suppresses: false,
    person: null,
    stays: false,
    countIn: 3,
    startAt: null,
    limit: null,
  };
  const openAll = () => Object.values(gates).forEach((gate) => gate.resolve());
  return {
    recorder,
    choice,
    gates,
    engine,
    surfaces,
    screen,
    camera,
    microphone,
    thrownAway,
    salvaged,
    finished,
    adds,
    entries,
    starts,
    wake,
    wakes,
    openAll,
    reachLimit: () => told.limit(),
    record: () => recorder.record(choice),
    phase: () => recorder.snapshot().phase,
    part: (kind: TrackKind, number: number) => told.part(kind, number, new ArrayBuffer(1), number * 1_800_000),
    fail: (message: string) => told.failed(new Error(message)),
    pace: (step: 1 | 2) => told.pace({ screen: { due: 9, given: 9, inHand: 0, read: 9, step } }, null),
    failAdds: () => (add = async () => Promise.reject(new Error("no room"))),
  };
}

type Rig = ReturnType<typeof rig>;
const flush = () => vi.advanceTimersByTimeAsync(0);
const countIn = () => vi.advanceTimersByTimeAsync(3_000);

beforeEach(() => {
  vi.useFakeTimers();
  return () => void vi.useRealTimers();
});

/** The steps that are awaited between the press and the first frame, and how to come to each. */
const STEPS = {
  "the browser asks for a screen": async (r: ReturnType<typeof rig>) => void (await flush(), r),
  "it counts in": async (r: ReturnType<typeof rig>) => {
    r.gates.screen.resolve();
    await vi.advanceTimersByTimeAsync(1_500);
  },
  "a source is waited for after the count": async (r: ReturnType<typeof rig>) => {
    r.gates.screen.resolve();
    await countIn();
  },
  "the server is waited for after the count": async (r: ReturnType<typeof rig>) => {
    r.gates.screen.resolve();
    r.gates.sources.resolve();
    await countIn();
  },
  "the disk is waited for after the count": async (r: ReturnType<typeof rig>) => {
    r.gates.screen.resolve();
    r.gates.sources.resolve();
    r.gates.server.resolve();
    await countIn();
  },
} as const;

const WAYS = {
  Cancel: (r: ReturnType<typeof rig>) => r.recorder.cancel(),
  "ending the share": (r: ReturnType<typeof rig>) => r.screen.end(),
  "leaving the page": (r: ReturnType<typeof rig>) => void r.recorder.leave(),
} as const;

describe("a recorder that is told to stop before it began", () => {
  const cases = Object.keys(STEPS).flatMap((step) => Object.keys(WAYS).map((way) => [step, way] as const));

  it.each(cases.filter(([step, way]) => !(step.startsWith("the browser asks") && way === "ending the share")))(
    "while %s, by %s: nothing is recorded, and nothing stays but what may be used again",
    async (step, way) => {
      const r = rig();
      const recording = r.record();
      await STEPS[step as keyof typeof STEPS](r);
      WAYS[way as keyof typeof WAYS](r);
      r.openAll();
      await vi.advanceTimersByTimeAsync(20_000);
      await recording;
      expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", problem: null, take: null });
      expect(r.engine.started).toBe(0);
      // Whoever cancels may try again with the surface that they have chosen.
      const stays = way === "Cancel";
      expect(r.recorder.snapshot().shared?.screen ?? null).toBe(stays ? r.screen : null);
      expect(r.screen.readyState).toBe(stays ? "live" : "ended");
      // A take that the server has made by then is thrown away; one that was never asked for is not.
      const asked = step.startsWith("the server") || step.startsWith("the disk");
      expect(r.thrownAway).toEqual(asked ? ["t1"] : []);
    },
  );

  it("does not mix two attempts: a take that comes late belongs to the one that was given up", async () => {
    const r = rig();
    r.gates.screen.resolve();
    r.gates.sources.resolve();
    const first = r.record();
    await countIn();
    r.recorder.cancel();
    await first;
    const second = r.record();
    r.openAll();
    await countIn();
    await second;
    expect(r.phase()).toBe("recording");
    expect(r.thrownAway).toEqual(["t1"]);
    expect(r.engine.started).toBe(1);
  });
});

describe("muting", () => {
  it("is silence until it is taken back, whatever is turned meanwhile", async () => {
    const r = rig();
    r.openAll();
    r.recorder.mute("microphone", true);
    expect(r.recorder.snapshot().muted).toEqual([]);
    const recording = r.record();
    await countIn();
    await recording;
    r.recorder.mute("microphone", true);
    r.recorder.mute("sound", true);
    expect(r.recorder.snapshot().muted).toEqual(["microphone", "sound"]);
    r.recorder.turn("microphone", 2);
    r.recorder.mute("microphone", false);
    r.recorder.mute("sound", false);
    r.recorder.turn("sound", 0.25);
    expect(r.engine.turned).toEqual([
      ["microphone", 0],
      ["sound", 0],
      ["microphone", 2],
      ["sound", 0.5],
      ["sound", 0.25],
    ]);
    expect(r.recorder.snapshot().muted).toEqual([]);
  });
});

describe("timing", () => {
  it("starts at the moment that was chosen, and counts in before it", async () => {
    const r = rig();
    r.openAll();
    const recording = r.recorder.record({ ...r.choice, startAt: 90_000 });
    await flush();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "waiting", startsAt: 90_000 });
    // Three seconds before: the count is a part of the wait.
    expect(r.wakes).toEqual([87_000]);
    r.wake.resolve();
    await flush();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "counting", count: 3, startsAt: null });
    await countIn();
    await recording;
    expect([r.phase(), r.engine.started]).toEqual(["recording", 1]);
  });

  it.each([
    ["is cancelled", (r: Rig) => r.recorder.cancel(), null],
    ["loses what is to be shown", (r: Rig) => r.screen.end(), "is not shared any more"],
    ["is left", (r: Rig) => void r.recorder.leave(), null],
  ])("a start that %s while it is waited for never comes", async (_, give, problem) => {
    const r = rig();
    r.openAll();
    const recording = r.recorder.record({ ...r.choice, startAt: 90_000 });
    await flush();
    give(r);
    await recording;
    r.wake.resolve();
    await vi.advanceTimersByTimeAsync(20_000);
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", startsAt: null, take: null });
    if (problem) expect(r.recorder.snapshot().problem).toContain(problem);
    else expect(r.recorder.snapshot().problem).toBeNull();
    expect(r.engine.started).toBe(0);
  });

  it("ends by itself at its limit, and says that it did", async () => {
    const r = rig();
    r.openAll();
    const recording = r.recorder.record({ ...r.choice, limit: { at: 300_000_000, why: "chosen" } });
    await countIn();
    await recording;
    expect(r.starts).toEqual([300_000_000]);
    expect(r.recorder.snapshot()).toMatchObject({ limited: false, limit: { why: "chosen" } });
    r.reachLimit();
    await flush();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "saved", limited: true });
    expect(r.finished).toEqual([{ screen: 1 }]);
  });
});

describe("choosing what to show", () => {
  it("is an act of its own: shown, and not recorded; another one takes its place", async () => {
    const r = rig();
    r.openAll();
    const other = new Track();
    r.surfaces.push(other);
    await r.recorder.choose();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", shared: { surface: "window", screen: r.screen } });
    await r.recorder.choose();
    expect(r.recorder.snapshot().shared?.screen).toBe(other);
    expect(r.screen.readyState).toBe("ended");
    // Whoever closes the browser's window keeps what they had.
    await r.recorder.choose();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", problem: null, shared: { screen: other } });
    const recording = r.record();
    await countIn();
    await recording;
    expect([r.phase(), r.engine.started]).toEqual(["recording", 1]);
    await r.recorder.stop();
    expect([other.readyState, r.recorder.snapshot().shared]).toEqual(["ended", null]);
  });

  it("says so when nothing was chosen, and when what was chosen goes", async () => {
    const r = rig();
    r.openAll();
    await r.recorder.choose();
    r.screen.end();
    expect(r.recorder.snapshot()).toMatchObject({ shared: null, problem: expect.stringContaining("not shared any") });
    await r.recorder.choose();
    expect(r.recorder.snapshot()).toMatchObject({
      phase: "ready",
      problem: expect.stringContaining("Choose a screen"),
    });
  });

  it("ends when nothing is to be shown any more, and when the person goes elsewhere", async () => {
    for (const end of ["release", "leave"] as const) {
      const r = rig();
      r.openAll();
      await r.recorder.choose();
      await r.recorder[end]();
      expect([r.recorder.snapshot().shared, r.screen.readyState]).toEqual([null, "ended"]);
    }
  });
});

describe("a recorder", () => {
  const recording = async () => {
    const r = rig();
    r.openAll();
    const done = r.record();
    await countIn();
    await done;
    return r;
  };

  it("counts in for as long as is wished, and without a count begins as soon as the sources are there", async () => {
    const r = rig();
    r.openAll();
    const long = r.recorder.record({ ...r.choice, countIn: 5 });
    await vi.advanceTimersByTimeAsync(4_900);
    expect(r.recorder.snapshot()).toMatchObject({ phase: "counting", count: 1 });
    await vi.advanceTimersByTimeAsync(200);
    await long;
    expect(r.phase()).toBe("recording");
    const at = rig();
    at.gates.screen.resolve();
    const once = at.recorder.record({ ...at.choice, countIn: 0 });
    await flush();
    expect(at.recorder.snapshot()).toMatchObject({ phase: "counting", count: 0 });
    at.openAll();
    await flush();
    await once;
    expect(at.phase()).toBe("recording");
  });

  it("goes through its phases, and tells the end when every part is on the disk", async () => {
    const r = await recording();
    expect(r.phase()).toBe("recording");
    r.part("screen", 1);
    r.recorder.pause();
    expect(r.phase()).toBe("paused");
    r.recorder.resume();
    await r.recorder.stop();
    expect(r.phase()).toBe("saved");
    expect(r.finished).toEqual([{ screen: 1 }]);
    expect(r.screen.readyState).toBe("ended");
    r.recorder.again();
    expect(r.phase()).toBe("ready");
  });

  it("counts what a tab that dies now would lose, from the segments that are on the disk", async () => {
    const r = await recording();
    await vi.advanceTimersByTimeAsync(1_000);
    expect(r.recorder.health().inHand).toBeCloseTo(1_000_000, -5);
    r.part("screen", 0);
    r.part("screen", 1);
    r.part("microphone", 1);
    await vi.advanceTimersByTimeAsync(1_300);
    expect(r.recorder.health().inHand).toBeCloseTo(500_000, -5);
  });

  it("goes on when the page is left, and ends the devices that the page gave over", async () => {
    const r = await recording();
    r.recorder.leave();
    expect(r.recorder.giveOver("camera", asTrack(r.camera))).toBe(true);
    expect(r.recorder.giveOver("microphone", asTrack(r.microphone))).toBe(true);
    expect(r.recorder.giveOver("camera", asTrack(new Track()))).toBe(false);
    expect([r.phase(), r.camera.readyState]).toEqual(["recording", "live"]);
    // A page that comes back has them again, and ends them itself.
    expect(r.recorder.takeOver("camera", null)).toBe(r.camera);
    await r.recorder.stop();
    expect([r.camera.readyState, r.microphone.readyState]).toEqual(["live", "ended"]);
    expect(r.recorder.takeOver("camera", null)).toBeNull();
    expect(r.recorder.giveOver("camera", asTrack(r.camera))).toBe(false);
  });

  it("begins each take in the scene that was wished for, also after one that was cancelled", async () => {
    const r = rig();
    r.screen.getSettings = () => ({ displaySurface: "window", width: 1280, height: 720 });
    r.recorder.arrange({ scene: "beside" });
    r.openAll();
    void r.record();
    await vi.advanceTimersByTimeAsync(1_000);
    r.recorder.cancel();
    await flush();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", arrangement: { scene: "beside" } });
    void r.record();
    await countIn();
    await flush();
    expect(r.phase()).toBe("recording");
    r.recorder.arrange({ scene: "camera" });
    const scenes = r.entries.filter((e) => e.kind === "scene");
    expect(scenes.map((e) => e.body && [e.body.layers.length, e.body.fade])).toEqual([
      [2, 0],
      [1, 250_000],
    ]);
    await r.recorder.discard();
    expect(r.recorder.snapshot().arrangement.scene).toBe("beside");
  });

  it("starts over with the same devices and set-up, in the place of what is thrown away", async () => {
    const r = await recording();
    r.recorder.giveOver("microphone", asTrack(r.microphone));
    r.recorder.arrange({ scene: "beside" });
    const again = r.recorder.startOver();
    await countIn();
    await again;
    expect(r.phase()).toBe("recording");
    expect(r.thrownAway).toHaveLength(1);
    expect([r.camera.readyState, r.microphone.readyState]).toEqual(["live", "live"]);
    expect(r.recorder.snapshot().arrangement.scene).toBe("inset");
    expect(r.recorder.elapsed()).toBeLessThan(1_000_000);
    // The microphone, which no page shows, ends with this take.
    await r.recorder.stop();
    expect([r.camera.readyState, r.microphone.readyState]).toEqual(["live", "ended"]);
  });

  it("ends a device that was given over when another takes its place, or the take is thrown away", async () => {
    const r = await recording();
    r.recorder.giveOver("camera", asTrack(r.camera));
    r.recorder.giveOver("microphone", asTrack(r.microphone));
    // Who asks for another one does not get it, and it is still ended.
    expect(r.recorder.takeOver("camera", "two")).toBeNull();
    r.recorder.replace("camera", asTrack(new Track()));
    expect([r.camera.readyState, r.microphone.readyState]).toEqual(["ended", "live"]);
    await r.recorder.discard();
    expect(r.microphone.readyState).toBe("ended");
  });

  it("writes down what is said of a moment, and takes it back", async () => {
    const r = await recording();
    await vi.advanceTimersByTimeAsync(2_000);
    const id = r.recorder.entries.note({ what: "point", text: "Panes" })!;
    expect(r.recorder.entries.snapshot().notes).toMatchObject([{ id, kind: "note", body: { text: "Panes" } }]);
    r.recorder.entries.takeBack(id);
    r.recorder.entries.takeBack(id);
    expect(r.recorder.entries.snapshot().notes).toEqual([]);
    const notes = r.entries.filter((e) => e.kind === "note");
    expect(notes.map((e) => [e.version, e.body && e.body.text])).toEqual([
      [1, "Panes"],
      [2, null],
    ]);
    expect(Math.abs(notes[0]!.at - 2_000_000)).toBeLessThan(50_000);
    await r.recorder.stop();
    expect(r.recorder.entries.note({ what: "mistake", text: "" })).toBeNull();
  });

  it("goes on from an earlier moment, only while it is paused, and writes down from where", async () => {
    const r = await recording();
    r.recorder.goOnFrom(1);
    expect(r.entries.some((e) => e.kind === "note")).toBe(false);
    expect(await r.recorder.recall()).toEqual({ voice: null, glimpses: [] });
    r.recorder.pause();
    const at = r.recorder.elapsed();
    // Never from a moment that is still to come.
    r.recorder.goOnFrom(at + 5_000_000);
    expect(r.recorder.snapshot().phase).toBe("recording");
    const note = r.entries.find((e) => e.kind === "note")!;
    expect(note).toMatchObject({ at, body: { what: "backed-up", since: at } });
    await r.recorder.stop();
    expect(await r.recorder.recall()).toBeNull();
  });

  it("says at once that a device was lost, and goes on without it", async () => {
    const r = await recording();
    r.camera.end();
    expect(r.recorder.snapshot()).toMatchObject({
      phase: "recording",
      lost: ["camera"],
      arrangement: { scene: "screen" },
    });
  });

  it("goes on with another device, and with one in place of a lost one", async () => {
    const r = await recording();
    const [second, third] = [new Track(), new Track()];
    r.recorder.replace("microphone", r.choice.microphone!);
    r.recorder.replace("microphone", asTrack(second));
    // The one before is nobody's business any more.
    r.microphone.end();
    expect(r.recorder.snapshot().lost).toEqual([]);
    r.camera.end();
    expect(r.recorder.snapshot()).toMatchObject({ lost: ["camera"], arrangement: { scene: "screen" } });
    r.recorder.replace("camera", asTrack(third));
    expect(r.recorder.snapshot()).toMatchObject({ lost: [], arrangement: { scene: "inset" } });
    expect(r.engine.replaced).toEqual([
      ["microphone", second],
      ["camera", third],
    ]);
    second.end();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "recording", lost: ["microphone"] });
  });

  it("goes on with another surface, keeps the old one where none is chosen, and none when it was stopped", async () => {
    const r = await recording();
    await r.recorder.changeSurface();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "recording", problem: null, shared: { screen: r.screen } });
    const other = new Track();
    r.surfaces.push(other);
    await r.recorder.changeSurface();
    expect(r.engine.replaced).toEqual([["screen", other]]);
    expect(r.recorder.snapshot()).toMatchObject({ phase: "recording", shared: { screen: other } });
    expect(r.screen.readyState).toBe("ended");
    const late = new Track();
    r.surfaces.push(late);
    const changing = r.recorder.changeSurface();
    await r.recorder.stop();
    await changing;
    expect([late.readyState, other.readyState, r.recorder.snapshot().shared]).toEqual(["ended", "ended", null]);
  });

  it("keeps for another try what was chosen while its take was thrown away", async () => {
    const r = await recording();
    const other = new Track();
    r.surfaces.push(other);
    r.gates.screen = gate();
    const changing = r.recorder.changeSurface();
    await r.recorder.discard();
    // While the browser's own window is open there is nothing to begin with.
    await r.record();
    expect(r.phase()).toBe("ready");
    r.gates.screen.resolve();
    await changing;
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", shared: { screen: other } });
    expect([r.engine.replaced, other.readyState, r.screen.readyState]).toEqual([[], "live", "ended"]);
  });

  it("notices a device that was lost while it counted in", async () => {
    const r = rig();
    r.openAll();
    const done = r.record();
    await vi.advanceTimersByTimeAsync(1_000);
    r.microphone.end();
    await countIn();
    await done;
    expect(r.recorder.snapshot().lost).toEqual(["microphone"]);
  });

  it("tells why a source that never comes was not recorded", async () => {
    const r = rig();
    r.gates.screen.resolve();
    const done = r.record();
    await vi.advanceTimersByTimeAsync(11_000);
    await done;
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", problem: expect.stringContaining("did not start") });
  });

  it("tells what failed in the engine while counting in, and in the middle keeps what there is", async () => {
    const r = rig();
    r.gates.screen.resolve();
    const done = r.record();
    await vi.advanceTimersByTimeAsync(1_000);
    r.fail("no encoder");
    await flush();
    await done;
    expect(r.recorder.snapshot()).toMatchObject({ phase: "ready", problem: "no encoder" });
    const later = await recording();
    later.fail("encoder gone");
    await flush();
    expect(later.phase()).toBe("saved");
  });

  it("stops when this computer is full, and says so", async () => {
    const r = await recording();
    r.failAdds();
    r.part("screen", 1);
    await flush();
    expect(r.recorder.snapshot()).toMatchObject({ phase: "saved", problem: expect.stringContaining("no room") });
    expect(r.finished).toEqual([{ screen: 1 }]);
  });

  it("tells while only every second picture is recorded", async () => {
    const r = await recording();
    const told: boolean[] = [];
    r.recorder.subscribe(() => told.push(r.recorder.snapshot().slowed));
    for (const step of [1, 2, 2, 1] as const) r.pace(step);
    expect(told).toEqual([true, false]);
    r.pace(2);
    await r.recorder.discard();
    expect(r.recorder.snapshot().slowed).toBe(false);
  });

  it("throws a take away when asked", async () => {
    const r = await recording();
    await r.recorder.discard();
    expect([r.phase(), r.thrownAway]).toEqual(["ready", ["t1"]]);
  });
});
