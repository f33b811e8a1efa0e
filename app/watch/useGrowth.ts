import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";

/** How often it is asked whether there is something new; a page that is hidden does not ask. */
const EVERY_MS = 2_000;

/**
 * Loads a page's data anew when what it shows of a recording that grows has changed; whether it has is asked for in a
 * few bytes, however many watch.
 * @param growth what the page shows, see `Playback.growth`; empty for nothing yet
 * @param on it may still grow
 */
export function useGrowth(token: string, growth: string, on: boolean): void {
  const { revalidate, state } = useRevalidator();
  const now = useRef({ revalidate, state, growth });
  now.current = { revalidate, state, growth };
  useEffect(() => {
    if (!on) return;
    const leaves = new AbortController();
    const { signal } = leaves;
    const look = async () => {
      if (document.visibilityState !== "visible" || now.current.state !== "idle") return;
      const answer = await fetch(`/w/${token}/growth`, { signal });
      // It is not theirs to see any more, and the page says why.
      const isNew = answer.ok ? (await answer.text()) !== now.current.growth : answer.status < 500;
      if (isNew && !signal.aborted && now.current.state === "idle") void now.current.revalidate();
    };
    // Without a connection there is nothing new; the next look is soon.
    const timer = setInterval(() => look().catch(() => undefined), EVERY_MS);
    return () => {
      clearInterval(timer);
      leaves.abort();
    };
  }, [token, on]);
}
