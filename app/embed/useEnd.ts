import { useEffect } from "react";
import { parseFragment } from "#core/answers/fragment";
import type { Player } from "../player/player";

/** Where the address names a stretch (Media Fragments), playing stops at its end, once; played again, it goes on. */
export function useEnd(player: Player | null): void {
  useEffect(() => {
    const until = parseFragment(location.hash)?.until ?? null;
    if (!player || until === null) return;
    let before = player.snapshot().time;
    const leave = player.subscribe(() => {
      const { time, playing } = player.snapshot();
      if (playing && before < until && time >= until) {
        leave();
        player.pause();
      }
      before = time;
    });
    return leave;
  }, [player]);
}
