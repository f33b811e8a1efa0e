import type { Audience } from "../access/access";

/** Where a recording stands in the ledger, by what is still owed. */
export type Owed = "arriving" | "waiting" | "answered" | "nothing" | "draft" | "others";

export interface OwedFacts {
  state: { kind: string };
  audience: Audience;
  mine: boolean;
  back: { ask: { closed: boolean; asked: number; answered: number; notClear: number } | null } | null;
}

/** Answered means by everybody who was asked, and clear to all of them; or that the sender has closed it. */
export function owedOf({ state, audience, mine, back }: OwedFacts): Owed {
  if (state.kind !== "ready") return "arriving";
  if (!mine) return "others";
  if (audience === "owner") return "draft";
  const ask = back?.ask;
  if (!ask) return "nothing";
  return ask.closed || (ask.asked > 0 && ask.answered >= ask.asked && ask.notClear === 0) ? "answered" : "waiting";
}
