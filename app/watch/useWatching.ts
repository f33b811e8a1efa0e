import { useMemo } from "react";
import { UNDRESSED } from "#core/recipe/as-shown";
import type { Micros } from "#core/time/micros";
import { useReact } from "../answers/ReactionBar";
import { useAnswers } from "../answers/useAnswers";
import type { Me } from "../answers/store";
import { useMusic } from "../player/useMusic";
import { useMovesOver } from "../player/useMovesOver";
import { usePlayer } from "../player/usePlayer";
import { usePlayerFirst } from "../player/usePlayerFirst";
import { useReporter } from "../player/useReporter";
import type { Shown } from "../services/shown.server";
import { useGrowth } from "./useGrowth";

interface As {
  onPeople?: () => void;
  stranger?: Pick<Me, "needsName" | "mayComment"> | null;
  listens?: boolean;
}

/** What is shown at a link, alive: played, told and answered. */
export function useWatching(shown: Shown, { onPeople = NOTHING, stranger = null, listens = true }: As) {
  const { token, playable, served } = shown;
  const unfinished = playable?.state !== "complete";
  useGrowth(token, playable?.growth ?? "", unfinished);
  usePlayerFirst();
  const { store, state } = useAnswers(token, served, onPeople, stranger, listens);
  const opening = {
    token,
    layers: playable?.layers ?? [],
    duration: playable?.durationUs ?? 0,
    complete: !unfinished,
  };
  const { player, attach } = usePlayer(opening, playable?.dress ?? UNDRESSED);
  useMovesOver(player, playable?.revision ?? null);
  useMusic(player, playable?.music ?? null, playable?.dress ?? UNDRESSED);
  useReporter(token, player, store);
  const react = useReact(store, player);
  const seek = useMemo(() => (at: Micros) => player?.seek(at), [player]);
  return { store, state, opening, player, attach, react, seek, unfinished };
}

const NOTHING = () => undefined;
