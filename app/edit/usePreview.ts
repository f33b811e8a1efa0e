import { useEffect } from "react";
import type { PlayOrder } from "#core/recipe/recorded-line";
import { SECOND } from "#core/time/micros";
import type { Player } from "../player/player";

/** The player tells its time so often: what ends before it does so again is waited for by itself. ms */
const SOON_MS = 120;

/** Plays across what is left out, as it will be published. @param order null to play everything as it was recorded */
export function usePreview(player: Player | null, order: PlayOrder | null): void {
  useEffect(() => {
    if (!player || !order) return;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const goOn = (then: number | null) => {
      if (then === null) player.pause();
      else player.seek(then);
    };
    const look = () => {
      if (timer) clearTimeout(timer);
      timer = null;
      const { playing, waiting, time, rate } = player.snapshot();
      if (!playing || waiting) return;
      const { until, then } = order.from(time);
      const left = ((until - time) * 1000) / SECOND / rate;
      // Stretches that touch are played on as they are.
      if (then === until && until > time) return;
      if (left <= 0) goOn(then);
      else if (left < SOON_MS) timer = setTimeout(() => goOn(then), left);
    };
    const stop = player.subscribe(look);
    look();
    return () => {
      stop();
      if (timer) clearTimeout(timer);
    };
  }, [player, order]);
}
