import { useEffect } from "react";
import { factorOf } from "#core/audio/gain";
import { MUSIC_SLOWLY, TUNES, type Music } from "#core/audio/music";
import { soundAt } from "#core/audio/sound-at";
import type { Range } from "#core/time/ranges";
import { toSeconds } from "#core/time/micros";
import { setFactor } from "./gain";
import type { Player } from "./player";
import type { Heard } from "./useSound";

export interface ShownMusic extends Music {
  /** where somebody speaks, on the line that is played */
  speech: readonly Range[];
}

const LOOK_MS = 100;

/**
 * Plays a tune under a recording: while that plays, from where that is, and lower where somebody speaks. A layer of
 * its own that nothing waits for.
 */
export function useMusic(player: Player | null, music: ShownMusic | null, { fades, shown }: Heard): void {
  useEffect(() => {
    if (!player || !music) return;
    const { tune, decibels, under, speech } = music;
    const audio = new Audio(`/music/${tune}.m4a`);
    audio.loop = true;
    let seeks = -1;
    const look = () => {
      const state = player.snapshot();
      const now = shown?.(state.time) ?? { at: state.time, length: state.duration };
      audio.volume = state.volume;
      audio.muted = state.muted;
      const low = speech.some(({ from, to }) => from <= state.time && state.time < to) ? under : 0;
      const faded = soundAt("music", 0, { louder: [], fades }, state.time, now);
      setFactor(audio, factorOf(decibels + low) * faded, MUSIC_SLOWLY);
      if (state.seeks !== seeks) {
        seeks = state.seeks;
        audio.currentTime = toSeconds(now.at) % TUNES[tune];
      }
      if (!state.playing || state.waiting || state.opening) audio.pause();
      // What the browser does not let sound, it does not let the recording either; that says so.
      else if (audio.paused) void audio.play().catch(() => undefined);
    };
    look();
    const timer = setInterval(look, LOOK_MS);
    return () => {
      clearInterval(timer);
      audio.pause();
      audio.removeAttribute("src");
    };
  }, [player, music, fades, shown]);
}
