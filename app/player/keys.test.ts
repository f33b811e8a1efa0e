import { describe, expect, it, vi } from "vitest";
import type { Player } from "./player";
import { onPlayerKey } from "./keys";

function setUp() {
  const player = {
    snapshot: () => ({ time: 30_000_000, volume: 0.5, muted: false, rate: 1 }),
    toggle: vi.fn(),
    seek: vi.fn(),
    setVolume: vi.fn(),
    setMuted: vi.fn(),
    setRate: vi.fn(),
  };
  const deeds = {
    toggleCamera: vi.fn(),
    toggleFull: vi.fn(),
    showKeys: vi.fn(),
    toggleCaptions: vi.fn(),
    comment: vi.fn(),
    react: vi.fn(),
  };
  const press = (key: string, more: object = {}) =>
    onPlayerKey(
      { key, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...more },
      player as unknown as Player,
      deeds,
    );
  return { player, deeds, press };
}

describe("keys of the player", () => {
  it("do what the list says", () => {
    const { player, deeds, press } = setUp();
    press(" ");
    press("ArrowLeft");
    press("ArrowRight", { shiftKey: true });
    press("+");
    press("-");
    press("M");
    press("ArrowUp");
    press("p");
    press("?", { shiftKey: true });
    press("t");
    press("C");
    press("1");
    press("5");
    press("6");
    expect(player.toggle).toHaveBeenCalledOnce();
    expect(player.seek.mock.calls).toEqual([[25_000_000], [50_000_000]]);
    expect(player.setRate.mock.calls).toEqual([[1.25], [0.75]]);
    expect(player.setMuted).toHaveBeenCalledWith(true);
    expect(player.setVolume).toHaveBeenCalledWith(0.6);
    expect(deeds.toggleCamera).toHaveBeenCalledOnce();
    expect(deeds.showKeys).toHaveBeenCalledOnce();
    expect(deeds.toggleCaptions).toHaveBeenCalledOnce();
    expect(deeds.comment).toHaveBeenCalledOnce();
    expect(deeds.react.mock.calls).toEqual([[0], [4]]);
  });

  it("leave the browser's own shortcuts and other keys alone", () => {
    const { player, press } = setUp();
    expect(press("f", { ctrlKey: true })).toBe(false);
    expect(press("x")).toBe(false);
    expect(player.toggle).not.toHaveBeenCalled();
  });
});
