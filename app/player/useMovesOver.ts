import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";
import { TROUBLE } from "./layer";
import type { Player } from "./player";
import { usePlayerValue } from "./usePlayer";

/**
 * Where a player is told that there is nothing any more, the page asks what is shown now: another revision may have
 * been published, and then it goes on with that. Once for each revision; where there is none the page says so.
 */
export function useMovesOver(player: Player | null, revision: number | null): void {
  const gone = usePlayerValue(player, ({ problem }) => problem === TROUBLE.gone);
  const { revalidate } = useRevalidator();
  const asked = useRef<number | null>(null);
  useEffect(() => {
    if (!gone || revision === null || asked.current === revision) return;
    asked.current = revision;
    void revalidate();
  }, [gone, revision, revalidate]);
}
