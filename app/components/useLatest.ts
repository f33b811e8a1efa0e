import { useEffect, useState } from "react";
import { useFetcher } from "react-router";

/**
 * What a page was served with, or what was asked for since, whichever came last: for a part of a page that changes more
 * often than the rest.
 * @param path the address of that part alone
 * @returns it, and how to ask for it anew
 */
export function useLatest<T>(served: T, path: string): [T, () => void] {
  const { load, data } = useFetcher<T>();
  const [latest, setLatest] = useState(served);
  useEffect(() => setLatest(served), [served]);
  useEffect(() => {
    if (data !== undefined) setLatest(data as T);
  }, [data]);
  return [latest, () => void load(path)];
}
