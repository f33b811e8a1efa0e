import { useEffect, useRef, useState } from "react";
import type { Player } from "../player/player";
import { usePlayerValue } from "../player/usePlayer";
import { Refused, type AnswersState, type AnswersStore } from "./store";

/** What the lanes need is asked for when the page has settled. */
const SETTLED_MS = 2_000;

/** Are there threads in a part of the line that have not come? */
function lacks({ along, comments }: Pick<AnswersState, "along" | "comments">, part: number): boolean {
  if (!along) return false;
  const isHere = ({ at }: { at: number }) => Math.floor(at / along.part) === part;
  const there = along.threads.filter(isHere).reduce((sum, { count }) => sum + count, 0);
  return there > comments.filter((c) => c.replyTo === null && isHere(c)).length;
}

/**
 * Brings the comments that the page did not come with: older ones where somebody asks for them, and those around the
 * moment that is played.
 */
export function useMoreComments(store: AnswersStore | null, state: AnswersState, player: Player | null) {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const isPart = state.before !== null;
  useEffect(() => {
    if (!store || !isPart) return;
    const timer = setTimeout(() => void store.measure().catch(unlessRefused), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [store, isPart, state.revision]);

  const part = state.along?.part ?? null;
  const played = usePlayerValue(player, (s) => (part ? Math.floor(s.time / part) : null));
  const asked = useRef(new Set<string>());
  useEffect(() => {
    if (!store || !part || played === null) return;
    const name = `${state.revision} ${played}`;
    if (!lacks(store.snapshot(), played) || asked.current.has(name)) return;
    asked.current.add(name);
    void store.near(played * part).catch(unlessRefused);
  }, [store, part, played, state.revision]);

  const older = async () => {
    if (!store) return;
    setBusy(true);
    setProblem(null);
    try {
      await store.older();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setProblem(error.message);
    } finally {
      setBusy(false);
    }
  };
  return { isPart, older, busy, problem };
}

/** What is only a help is not told when it does not come. */
function unlessRefused(error: unknown): void {
  if (!(error instanceof Refused)) throw error;
}
