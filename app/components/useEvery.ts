import { useEffect, useRef, useState } from "react";

const TOLD_MS = 200;

/** What a function gives, looked at a few times a second. */
export function useEvery<T>(look: () => T): T {
  const [now, setNow] = useState(look);
  const latest = useRef(look);
  useEffect(() => void (latest.current = look));
  useEffect(() => {
    const timer = setInterval(() => setNow(latest.current()), TOLD_MS);
    return () => clearInterval(timer);
  }, []);
  return now;
}
