import { useEffect } from "react";
import type { useFetcher } from "react-router";

/** Asks a path again while something is under way there: so long after each answer, however slow that is. */
export function useAskAgain(
  { load, state }: Pick<ReturnType<typeof useFetcher>, "load" | "state">,
  path: string,
  under: boolean,
  everyMs: number,
): void {
  const answered = state === "idle";
  useEffect(() => {
    if (!under || !answered) return;
    const timer = setTimeout(() => void load(path), everyMs);
    return () => clearTimeout(timer);
  }, [under, answered, load, path, everyMs]);
}
