import { data } from "react-router";
import type { Found } from "#server/access/facts";

/** What whoever stands before a closed link is told: the same for all where there is nothing for them. */
export interface ClosedDoor {
  door: Exclude<Found["door"], "open">;
  /** when it opens, or closed; ms since 1970, for those whom it is open to otherwise */
  at: number | null;
}

const STATUS: Record<ClosedDoor["door"], number> = {
  nothing: 404,
  password: 403,
  "not-yet": 403,
  over: 410,
  replaced: 410,
};

/** The answer of a page behind a closed link, to be thrown. */
export function closedDoor({ door, recording }: Found) {
  const closed = door as ClosedDoor["door"];
  const at = (closed === "not-yet" ? recording?.opensAt : closed === "over" ? recording?.endsAt : null) ?? null;
  return data({ door: closed, at } satisfies ClosedDoor, { status: STATUS[closed] });
}
