import { useEffect, useState } from "react";
import { useFetcher } from "react-router";

/** A field in which people are named, and what came of it; it is empty again once that was taken. */
export function useWho<T extends { error: string | null }>() {
  const fetcher = useFetcher<T>();
  const [who, setWho] = useState("");
  const done = fetcher.state === "idle" && fetcher.data?.error === null;
  useEffect(() => {
    if (done) setWho("");
  }, [done]);
  return { fetcher, who, setWho, done, busy: fetcher.state !== "idle" };
}
