import { useEffect, type RefObject } from "react";
import { changesInPlay, soundAt } from "#core/audio/sound-at";
import type { ShownDress } from "#core/recipe/as-shown";
import type { Gained, Louder } from "#core/recipe/dress";
import type { Micros } from "#core/time/micros";
import type { Layer } from "#server/playback/playback";
import { setFactor, wakeSound } from "./gain";
import type { Player } from "./player";

/** How sounds are heard. */
export interface Heard extends Pick<ShownDress, "louder" | "fades"> {
  /** by the names of layers, instead of what is published with them */
  gains?: Louder;
  /** where a moment of what is played is shown, and how long that is; what is played, where that is not told */
  shown?: (at: Micros) => { at: Micros; length: Micros };
}

/** What changes while it plays is looked at so often; a change is heard evenly over as long. */
const LOOK_MS = 40;

/** Plays each sound as loud as it is to be at each moment. */
export function useSound(
  player: Player | null,
  layers: readonly Layer[],
  elements: RefObject<Map<Layer["role"], HTMLMediaElement>>,
  { louder, fades, gains, shown }: Heard,
): void {
  useEffect(() => {
    if (!player) return;
    const heard = { louder, fades };
    const apply = () => {
      const { time, duration } = player.snapshot();
      for (const { role, name, gain = 0 } of layers) {
        const element = elements.current.get(role);
        if (!element || role === "camera") continue;
        const own = gains ? (gains[name as Gained] ?? 0) : gain;
        // The element's own clock: what the player tells is up to a quarter of a second old.
        const now = element.readyState > 0 ? Math.round(element.currentTime * 1e6) : time;
        setFactor(element, soundAt(name, own, heard, now, shown?.(now) ?? { at: now, length: duration }));
      }
    };
    apply();
    const wake = () => player.snapshot().playing && wakeSound();
    wake();
    const leave = player.subscribe(wake);
    const timer = changesInPlay(heard) ? setInterval(apply, LOOK_MS) : undefined;
    return () => {
      leave();
      clearInterval(timer);
    };
  }, [player, layers, elements, louder, fades, gains, shown]);
}
