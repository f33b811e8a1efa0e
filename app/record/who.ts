import { useEffect } from "react";
import { readWishes } from "#core/desk/wishes";
import type { Room } from "#server/desk/room";
import type { SetUp } from "#server/desk/set-ups";
import { kept } from "../kept";

/** Who records on this computer: known without the server, too. */
export interface Who {
  id: string;
  workspaceId: string;
}

const NAME = "clear-nod-who";
const FACTS = "clear-nod-desk-of";

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
    else if (isNobody) for (const name of [NAME, FACTS]) kept.remove(name);
  }, [id, workspaceId, isNobody]);
}

/** What the desk knows of somebody's workspace and set-ups, for when there is no connection. */
export interface DeskFacts {
  setUps: SetUp[];
  room: Room;
}

const UNKNOWN: DeskFacts = { setUps: [], room: { longestUs: null, most: null, used: 0 } };

/** Remembers what the server said of somebody's desk. */
export function rememberDesk(facts: DeskFacts): void {
  const who = whoIsHere();
  if (who) kept.write(FACTS, { ...facts, of: who.id });
}

/** What was remembered for them, as far as it can be read: what another person had here is not told. */
export function deskOf(who: Who): DeskFacts {
  const { of, setUps, room } = (kept.read(FACTS) ?? {}) as Partial<Record<"of" | keyof DeskFacts, unknown>>;
  if (of !== who.id) return UNKNOWN;
  return { setUps: readSetUps(setUps), room: readRoom(room) };
}

function readSetUps(kept: unknown): SetUp[] {
  if (!Array.isArray(kept)) return [];
  return kept.flatMap((one: Partial<Record<keyof SetUp, unknown>> | null) =>
    typeof one?.id === "string" && typeof one.name === "string"
      ? [{ id: one.id, name: one.name, wishes: readWishes(one.wishes), isFirst: one.isFirst === true }]
      : [],
  );
}

function readRoom(kept: unknown): Room {
  const { longestUs, most, used } = (kept ?? {}) as Partial<Record<keyof Room, unknown>>;
  const number = (value: unknown) => (typeof value === "number" && value >= 0 ? value : null);
  return { longestUs: number(longestUs), most: number(most), used: number(used) ?? 0 };
}
