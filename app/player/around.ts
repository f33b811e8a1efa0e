import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Player } from "./player";

/** How much before and after a stretch is played. */
const LEAD: Micros = 2_500_000;

/**
 * Plays what comes before a stretch and what comes after it, as if the stretch were left out; then it stands still.
 * @returns ends it
 */
export function playAround(player: Player, { from, to }: Range): () => void {
  const begin = Math.max(0, from - LEAD);
  let seeks: number;
  let over = false;
  const stop = player.subscribe(() => {
    const { time, seeks: now, ended } = player.snapshot();
    if (now !== seeks || ended) return stop();
    if (!over && time >= from) {
      over = true;
      seeks = now + 1;
      player.seek(to);
    } else if (over && time >= to + LEAD) {
      stop();
      player.pause();
    }
  });
  seeks = player.snapshot().seeks + 1;
  player.seek(begin);
  player.play();
  return stop;
}
