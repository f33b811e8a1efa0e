import { useEffect, useRef } from "react";
import type { useFetcher } from "react-router";

/** Asks a path again and again while something is under way there; not before it has answered, however slow that is. */
export function useAskAgain(
  { load, state }: Pick<ReturnType<typeof useFetcher>, "load" | "state">,
  path: string,
  under: boolean,
  everyMs: number,
): void {
  // Looked up, not waited for: a quick answer may come without a render in between.
  const now = useRef(state);
  now.current = state;
  useEffect(() => {
    if (!under) return;
    const timer = setInterval(() => {
      if (now.current === "idle") void load(path);
    }, everyMs);
    return () => clearInterval(timer);
  }, [under, load, path, everyMs]);
}
