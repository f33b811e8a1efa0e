import { useEffect } from "react";
import { kept } from "../kept";

/** Who records on this computer: known without the server, too. */
export interface Who {
  id: string;
  workspaceId: string;
}

const NAME = "clear-nod-who";

/** Who was signed in here last, and has not signed out; null on the server and where nobody is known. */
export function whoIsHere(): Who | null {
  if (typeof window === "undefined") return null;
  const { id, workspaceId } = (kept.read(NAME) ?? {}) as Partial<Record<keyof Who, unknown>>;
  return typeof id === "string" && typeof workspaceId === "string" ? { id, workspaceId } : null;
}

/** Remembers who is signed in; nobody, once that was said. @param told what the server said; undefined if nothing */
export function useRemembered(told: Who | null | undefined): void {
  const { id, workspaceId } = told ?? {};
  const isNobody = told === null;
  useEffect(() => {
    if (id && workspaceId) kept.write(NAME, { id, workspaceId });
    else if (isNobody) kept.remove(NAME);
  }, [id, workspaceId, isNobody]);
}
