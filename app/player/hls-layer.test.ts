import Hls, { type HlsConfig } from "hls.js";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { HlsLayer } from "./hls-layer";
import { NativeLayer } from "./native-layer";

class Media extends EventTarget {
  duration = Number.NaN;
  currentTime = 0;
  readyState = 0;
  seeking = false;
  src = "";
  error: { code: number; message: string } | null = null;
  seekable = { length: 0, end: () => 0 } as unknown as TimeRanges;
  load = vi.fn();
  removeAttribute = vi.fn();
}

/** The library, as far as a layer uses it. */
function fakeHls() {
  const listeners = new Map<string, (name: string, data: object) => void>();
  const hls = {
    levels: [] as object[],
    on: (name: string, listener: (name: string, data: object) => void) => void listeners.set(name, listener),
    attachMedia: vi.fn(),
    loadSource: vi.fn(),
    startLoad: vi.fn(),
    recoverMediaError: vi.fn(),
    destroy: vi.fn(),
  };
  const tell = (name: string, data: object) => listeners.get(name)!(name, data);
  return {
    hls,
    tell,
    fail: (type: string, more: object = {}) => tell(Hls.Events.ERROR, { fatal: true, type, details: "x", ...more }),
  };
}

let online: () => void = () => undefined;
beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("window", {
    addEventListener: (_: string, listener: () => void) => (online = listener),
    removeEventListener: () => undefined,
  });
  return () => void vi.useRealTimers();
});

function rig() {
  const media = new Media();
  const said: string[] = [];
  const fake = fakeHls();
  const configs: Partial<HlsConfig>[] = [];
  const layer = new HlsLayer(
    media as unknown as HTMLMediaElement,
    "/main.m3u8",
    7,
    { onChange: vi.fn(), onFailed: (message) => said.push(message) },
    (config) => (configs.push(config), fake.hls as unknown as Hls),
  );
  return { ...fake, media, said, layer, configs };
}

describe("a layer by Media Source", () => {
  it("begins where it is told, and knows when it will not grow any more", () => {
    const { configs, hls, layer, tell } = rig();
    expect(configs[0]).toMatchObject({ startPosition: 7 });
    expect(hls.loadSource).toHaveBeenCalledWith("/main.m3u8");
    expect(layer.growing).toBe(true);
    tell(Hls.Events.LEVEL_UPDATED, { details: { live: false } });
    expect(layer.growing).toBe(false);
  });

  it("tries a first playlist again that never came, waiting longer each time, and at once when the network is back", () => {
    const { hls, fail, said } = rig();
    for (const ms of [1_000, 2_000, 4_000, 8_000, 8_000]) {
      hls.loadSource.mockClear();
      fail(Hls.ErrorTypes.NETWORK_ERROR);
      vi.advanceTimersByTime(ms - 1);
      expect(hls.loadSource).not.toHaveBeenCalled();
      vi.advanceTimersByTime(1);
      expect(hls.loadSource).toHaveBeenCalledOnce();
    }
    expect(new Set(said)).toEqual(new Set(["The connection was lost. Playing goes on when it is back."]));
    fail(Hls.ErrorTypes.NETWORK_ERROR);
    hls.loadSource.mockClear();
    online();
    expect(hls.loadSource).toHaveBeenCalledOnce();
  });

  it("goes on loading segments where the playlists are there", () => {
    const { hls, fail } = rig();
    hls.levels.push({});
    hls.loadSource.mockClear();
    fail(Hls.ErrorTypes.NETWORK_ERROR, { response: { code: 503 } });
    vi.advanceTimersByTime(1_000);
    expect([hls.startLoad.mock.calls.length, hls.loadSource.mock.calls.length]).toEqual([1, 0]);
  });

  it.each([403, 404, 410])("%d is said as gone, and not tried again", (code) => {
    const { hls, fail, said } = rig();
    hls.loadSource.mockClear();
    fail(Hls.ErrorTypes.NETWORK_ERROR, { response: { code } });
    vi.advanceTimersByTime(60_000);
    expect(said).toEqual([expect.stringContaining("cannot be opened any more")]);
    expect(hls.loadSource).not.toHaveBeenCalled();
  });

  it("repairs the decoder a few times, not for ever", () => {
    const { hls, fail, layer, said } = rig();
    for (let n = 0; n < 5; n++) fail(Hls.ErrorTypes.MEDIA_ERROR);
    expect(hls.recoverMediaError).toHaveBeenCalledTimes(3);
    expect([said.length, layer.lost]).toEqual([1, true]);
    vi.advanceTimersByTime(60_000);
    fail(Hls.ErrorTypes.MEDIA_ERROR);
    expect(hls.recoverMediaError).toHaveBeenCalledTimes(3);
  });

  it("repairs again what failed long ago", () => {
    const { hls, fail, layer } = rig();
    for (let n = 0; n < 6; n++) {
      fail(Hls.ErrorTypes.MEDIA_ERROR);
      vi.advanceTimersByTime(20_000);
    }
    expect([hls.recoverMediaError.mock.calls.length, layer.lost]).toEqual([6, false]);
  });

  it("repairs nothing where there is no device to sound at", () => {
    const { hls, fail, layer, media } = rig();
    media.error = { code: 3, message: "NS_ERROR_DOM_MEDIA_MEDIASINK_ERR (0x806e000b) - OnMediaSinkAudioError" };
    fail(Hls.ErrorTypes.MEDIA_ERROR);
    expect([hls.recoverMediaError.mock.calls.length, layer.lost]).toEqual([0, true]);
  });
});

describe("a layer that the browser plays itself", () => {
  it("grows until it has a length, and loads again where it was after a lost connection", () => {
    const media = new Media();
    const said: string[] = [];
    const layer = new NativeLayer(media as unknown as HTMLMediaElement, "/main.m3u8", 0, {
      onChange: () => undefined,
      onFailed: (message) => said.push(message),
    });
    media.duration = Infinity;
    media.seekable = { length: 1, end: () => 12 } as unknown as TimeRanges;
    expect([layer.growing, layer.end, media.src]).toEqual([true, 12, "/main.m3u8"]);
    media.currentTime = 9;
    media.error = { code: 2, message: "" };
    media.dispatchEvent(new Event("error"));
    vi.advanceTimersByTime(3_000);
    media.currentTime = 0;
    media.dispatchEvent(new Event("loadedmetadata"));
    expect([media.currentTime, said.length]).toEqual([9, 1]);
    media.duration = 20;
    expect([layer.growing, layer.end]).toEqual([false, 20]);
    layer.destroy();
    expect(media.removeAttribute).toHaveBeenCalledWith("src");
  });
});
