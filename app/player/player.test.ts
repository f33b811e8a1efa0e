import { beforeEach, describe, expect, it, vi } from "vitest";
import { follow, isReady, type Layer, type LayerEvents } from "./layer";
import { Player, type Source } from "./player";

/** A media element as far as a player uses it, whose time goes on when it plays. */
class Media extends EventTarget {
  currentTime = 0;
  duration = 60;
  readyState = 4;
  seeking = false;
  ended = false;
  error: MediaError | null = null;
  paused = true;
  volume = 1;
  muted = false;
  playbackRate = 1;
  buffered = { length: 1, end: () => this.duration } as unknown as TimeRanges;
  play = vi.fn(async () => void (this.paused = false));
  pause = vi.fn(() => void (this.paused = true));
  /** so many seconds go by */
  go(seconds: number) {
    if (this.paused || this.readyState < 3) return;
    this.currentTime = Math.min(this.duration, this.currentTime + seconds * this.playbackRate);
    this.ended = this.currentTime >= this.duration;
    this.dispatchEvent(new Event("timeupdate"));
  }
}

class FakeLayer implements Layer {
  growing = false;
  lost = false;
  constructor(
    readonly media: HTMLMediaElement,
    readonly events: LayerEvents,
  ) {
    follow(media, events.onChange);
  }
  get time() {
    return this.media.currentTime;
  }
  get ready() {
    return isReady(this.media);
  }
  get end() {
    return this.media.duration;
  }
  destroy() {}
}

function rig(followers = 1, start = 0, spans: (Source["spans"] | undefined)[] = []) {
  const media = Array.from({ length: followers + 1 }, () => new Media());
  const layers: FakeLayer[] = [];
  const sources = media.map((m, i) => ({ media: m as unknown as HTMLMediaElement, url: `${i}`, spans: spans[i] }));
  const player = new Player(sources, start, (m, _url, from, events) => {
    m.currentTime = from;
    layers.push(new FakeLayer(m, events));
    return layers.at(-1)!;
  });
  /** time goes by for all, in the player's own steps */
  const go = (seconds: number, speed: number[] = []) => {
    for (let n = 0; n < seconds * 20; n++) {
      media.forEach((m, i) => m.go(0.05 * (speed[i] ?? 1)));
      vi.advanceTimersByTime(50);
    }
  };
  return { player, media, layers, go, lead: media[0]!, camera: media[1]! };
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("HTMLMediaElement", { HAVE_FUTURE_DATA: 3 });
  vi.stubGlobal("HTMLVideoElement", Media);
  return () => void vi.useRealTimers();
});

describe("a player of layers", () => {
  it("plays them together, and pauses them together", () => {
    const { player, lead, camera, go } = rig();
    player.play();
    go(2);
    expect(lead.currentTime).toBeCloseTo(2, 1);
    expect(Math.abs(camera.currentTime - lead.currentTime)).toBeLessThan(0.02);
    player.pause();
    expect([lead.paused, camera.paused, player.snapshot().playing]).toEqual([true, true, false]);
  });

  it("brings a follower that drifts back into step by its speed, without a jump", () => {
    const { player, lead, camera, go } = rig();
    player.play();
    go(1);
    camera.currentTime -= 0.1;
    go(0.05);
    expect(camera.playbackRate).toBeGreaterThan(1);
    go(3);
    expect(Math.abs(camera.currentTime - lead.currentTime)).toBeLessThan(0.02);
    expect(player.snapshot().seeks).toBe(0);
  });

  it("plays a layer only where it has something, from its first moment there, and waits for it nowhere else", () => {
    const S = 1_000_000;
    const { player, lead, camera, go } = rig(1, 0, [undefined, [{ from: 3 * S, to: 5 * S }]]);
    expect(camera.currentTime).toBe(3);
    camera.readyState = 1;
    player.play();
    go(2);
    expect(player.snapshot()).toMatchObject({ waiting: false, playing: true });
    expect(lead.currentTime).toBeCloseTo(2, 1);
    expect([camera.paused, camera.currentTime]).toEqual([true, 3]);
    go(1.5);
    // Now it is waited for.
    expect(player.snapshot().waiting).toBe(true);
    camera.readyState = 4;
    go(1);
    expect(camera.paused).toBe(false);
    expect(Math.abs(camera.currentTime - lead.currentTime)).toBeLessThan(0.05);
    go(2);
    expect(camera.paused).toBe(true);
    expect(lead.currentTime).toBeGreaterThan(5.3);
    player.seek(4 * S);
    expect([lead.currentTime, camera.currentTime]).toEqual([4, 4]);
    player.seek(1 * S);
    expect([lead.currentTime, camera.currentTime]).toEqual([1, 3]);
  });

  it("is told later where a layer has something, and ends where the last of them has its last moment", () => {
    const S = 1_000_000;
    const { player, lead, camera, go } = rig();
    camera.duration = 60.5;
    camera.readyState = 1;
    player.play();
    go(1);
    expect(player.snapshot().waiting).toBe(true);
    // Withheld from here to the end: it is waited for nowhere, and its end is not that of all.
    player.setSpans([{ url: "0" }, { url: "1", spans: [{ from: 0, to: S / 2 }] }]);
    player.seek(58 * S);
    go(3);
    expect(player.snapshot()).toMatchObject({ waiting: false, ended: true, playing: false, duration: 60 * S });
    expect(lead.ended).toBe(true);
    // One that is never seen does not keep the others from their end either.
    player.setSpans([{ url: "0" }, { url: "1", spans: [] }]);
    player.seek(59 * S);
    lead.ended = false;
    player.play();
    go(2);
    expect(player.snapshot()).toMatchObject({ ended: true, duration: 60 * S });
  });

  it("waits for what stands before its beginning, unless that is skipped, and not a second time", () => {
    const { player, lead, go } = rig();
    player.opensWith(2_000);
    player.play();
    go(1);
    expect([player.snapshot().opening, player.snapshot().time, lead.paused]).toEqual([true, 0, true]);
    player.pause();
    go(3);
    expect(player.snapshot()).toMatchObject({ opening: false, playing: false, time: 0 });
    player.play();
    go(2.5);
    expect(player.snapshot().opening).toBe(false);
    expect(lead.currentTime).toBeGreaterThan(0.3);
    player.pause();
    player.play();
    expect(player.snapshot().opening).toBe(false);
    player.seek(0);
    player.play();
    expect(player.snapshot().opening).toBe(true);
    player.skipOpening();
    go(0.2);
    expect(lead.currentTime).toBeGreaterThan(0.05);
  });

  it("goes on with the next layer where the one before has its end, and no other is there", () => {
    const S = 1_000_000;
    const { player, lead, camera, go } = rig(1, 0, [[{ from: 0, to: 2 * S }], [{ from: 2 * S, to: 4 * S }]]);
    player.play();
    go(1.8);
    expect([lead.paused, camera.paused]).toEqual([false, true]);
    go(0.5);
    expect([lead.paused, camera.paused]).toEqual([true, false]);
    go(1);
    expect(player.snapshot().time / S).toBeGreaterThan(2.8);
    expect(player.snapshot()).toMatchObject({ waiting: false, playing: true });
  });

  it("steps over a small hole between takes, with all layers, and waits at a large one", () => {
    const { player, lead: voice, camera: picture, go } = rig();
    const holed = (end: number, next: number) => {
      const ranges = [
        [0, end],
        [next, 60],
      ];
      return { length: 2, start: (i: number) => ranges[i]![0]!, end: (i: number) => ranges[i]![1]! } as TimeRanges;
    };
    player.play();
    go(3.5);
    // As measured: the element stands 40 ms before what it has of the first take, and 40 ms are missing.
    voice.currentTime = picture.currentTime = 3.522;
    voice.buffered = holed(3.56, 3.6);
    voice.readyState = 2;
    vi.advanceTimersByTime(50);
    expect(voice.currentTime).toBeCloseTo(3.601, 6);
    expect(picture.currentTime).toBeCloseTo(3.601, 6);
    voice.readyState = 4;
    go(1);
    expect(player.snapshot()).toMatchObject({ playing: true, waiting: false });
    expect(voice.currentTime).toBeGreaterThan(4.5);

    voice.buffered = holed(voice.currentTime + 0.04, voice.currentTime + 1);
    voice.readyState = 2;
    const before = voice.currentTime;
    go(1);
    expect(player.snapshot().waiting).toBe(true);
    expect(voice.currentTime).toBe(before);
  });

  it("goes on by another's pace when the one that gave it ends, and ends with the last", () => {
    const { player, lead: voice, camera: picture, go } = rig();
    voice.duration = 4;
    picture.duration = 9;
    player.play();
    go(3.9);
    expect(player.snapshot()).toMatchObject({ duration: 9_000_000, ended: false });
    // It is heard to its end.
    go(0.2);
    expect(voice.ended).toBe(true);
    go(2);
    expect(player.snapshot()).toMatchObject({ playing: true, waiting: false });
    expect(player.snapshot().time).toBeCloseTo(picture.currentTime * 1e6);
    expect(picture.currentTime).toBeGreaterThan(5.8);
    // What had ended plays again from a moment that it has.
    player.seek(1_000_000);
    voice.ended = false;
    go(1);
    expect(voice.currentTime).toBeCloseTo(2, 1);
    expect(Math.abs(voice.currentTime - picture.currentTime)).toBeLessThan(0.02);
    player.seek(8_500_000);
    expect(voice.currentTime).toBe(4);
    voice.ended = true;
    go(1);
    expect(player.snapshot()).toMatchObject({ ended: true, playing: false, time: 9_000_000 });
  });

  it("gives one that follows its own speed back when it gives the pace", () => {
    const { player, lead: voice, camera: picture, go } = rig();
    voice.duration = 2;
    player.play();
    go(1.5);
    picture.currentTime -= 0.2;
    go(0.2);
    expect(picture.playbackRate).toBeGreaterThan(1.1);
    go(0.3);
    expect(picture.playbackRate).toBe(1);
  });

  it("lets all wait for one that has no data, and go on together when it has", () => {
    const { player, lead, camera, go } = rig();
    player.play();
    go(1);
    camera.readyState = 2;
    go(1);
    expect([lead.paused, player.snapshot().waiting]).toEqual([true, true]);
    expect(lead.currentTime).toBeLessThan(1.2);
    camera.readyState = 4;
    go(1);
    expect([lead.paused, player.snapshot().waiting]).toEqual([false, false]);
    expect(lead.currentTime).toBeGreaterThan(1.8);
  });

  it("does not wait for a camera that was lost while the take grows", () => {
    const { player, lead, camera, layers, go } = rig();
    for (const layer of layers) layer.growing = true;
    camera.duration = 4;
    lead.duration = 30;
    player.play();
    // It has all it ever got, and nothing after that.
    go(3.9);
    camera.readyState = 2;
    go(6);
    expect(lead.currentTime).toBeGreaterThan(8);
    expect(player.snapshot().waiting).toBe(false);
    // A camera that is only a little late is waited for.
    const late = rig();
    for (const layer of late.layers) layer.growing = true;
    late.camera.duration = 4;
    late.lead.duration = 7;
    late.player.play();
    late.go(3.9);
    late.camera.readyState = 2;
    late.go(2);
    expect(late.player.snapshot().waiting).toBe(true);
  });

  it("does not wait for a follower that broke", () => {
    const { player, lead, camera, go } = rig();
    camera.error = { code: 3 } as MediaError;
    camera.readyState = 0;
    player.play();
    go(1);
    expect(lead.currentTime).toBeGreaterThan(0.8);
  });

  it("seeks all to one moment, counts it, and never beyond the end", () => {
    const { player, lead, camera, go } = rig();
    go(0.1);
    lead.dispatchEvent(new Event("durationchange"));
    player.seek(30_000_000);
    expect([lead.currentTime, camera.currentTime, player.snapshot().seeks]).toEqual([30, 30, 1]);
    player.seek(999_000_000);
    expect(lead.currentTime).toBe(60);
  });

  it("ends, and begins anew from the start", () => {
    const { player, lead, go } = rig(0);
    player.play();
    player.seek(59_000_000);
    go(2);
    expect(player.snapshot()).toMatchObject({ ended: true, playing: false });
    lead.ended = false;
    player.play();
    go(1);
    expect(player.snapshot().time).toBeLessThan(2_000_000);
  });

  it("keeps speed within its bounds, and sound as one", () => {
    const { player, lead, camera } = rig();
    player.setRate(9);
    expect([lead.playbackRate, camera.playbackRate]).toEqual([2.5, 2.5]);
    player.setVolume(0.4);
    expect([lead.volume, lead.muted, camera.muted]).toEqual([0.4, false, true]);
    player.setMuted(true);
    expect(lead.muted).toBe(true);
  });

  it("plays on without a layer that cannot be played, says so once, and fails where none can be", () => {
    const { player, lead, camera, layers, go } = rig();
    player.play();
    go(1);
    // The voice, which gave the pace, has nowhere to sound.
    lead.readyState = 1;
    layers[0]!.lost = true;
    layers[0]!.events.onFailed("no device");
    go(3);
    expect(camera.currentTime).toBeGreaterThan(3.5);
    expect(player.snapshot()).toMatchObject({ playing: true, waiting: false, problem: null });
    expect(player.snapshot().time).toBe(Math.round(camera.currentTime * 1e6));
    expect(player.snapshot().without).toContain("cannot be played");
    go(60);
    expect(player.snapshot()).toMatchObject({ ended: true, duration: 60_000_000 });
    layers[1]!.lost = true;
    layers[1]!.events.onFailed("no decoder");
    expect(player.snapshot().problem).toBe("no decoder");
  });

  it("says so when the browser wants a press first", async () => {
    const { player, lead } = rig(0);
    lead.play.mockRejectedValue(Object.assign(new Error("no"), { name: "NotAllowedError" }));
    player.play();
    await vi.advanceTimersByTimeAsync(60);
    expect(player.snapshot()).toMatchObject({ playing: false, problem: expect.stringContaining("Press Play") });
  });

  it("takes over where another one was, and starts where it is told", () => {
    const { player } = rig(1, 12_000_000);
    expect(player.snapshot().time).toBe(12_000_000);
    player.takeOver({ ...player.snapshot(), playing: true, rate: 1.5, volume: 0.5, muted: true });
    expect(player.snapshot()).toMatchObject({ playing: true, started: true, rate: 1.5, muted: true });
    player.destroy();
  });
});
