import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";

/** Loads a page's data again and again while something on it is still changing; not in a hidden tab. */
export function useRefresh(on: boolean, everyMs: number): void {
  const { revalidate, state } = useRevalidator();
  const now = useRef({ revalidate, state });
  now.current = { revalidate, state };
  useEffect(() => {
    if (!on) return;
    const timer = setInterval(() => {
      if (document.visibilityState === "visible" && now.current.state === "idle") void now.current.revalidate();
    }, everyMs);
    return () => clearInterval(timer);
  }, [on, everyMs]);
}
