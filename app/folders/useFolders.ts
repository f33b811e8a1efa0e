import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { FoundFolder } from "#server/folders/folders";

/** Folders into which something can be put, by a part of their names; first all, then as somebody writes. */
export function useFolders() {
  const fetcher = useFetcher<{ found: FoundFolder[] }>();
  const [q, setQ] = useState("");
  const { load } = fetcher;
  useEffect(() => {
    const timer = setTimeout(() => void load(`/folders?q=${encodeURIComponent(q)}`), q === "" ? 0 : 200);
    return () => clearTimeout(timer);
  }, [q, load]);
  return { found: fetcher.data?.found ?? [], busy: fetcher.state !== "idle", q, setQ };
}

/** A folder with those above it, in a line. */
export const pathOf = ({ above, name }: Pick<FoundFolder, "above" | "name">): string => [...above, name].join(" / ");
