import { useSyncExternalStore } from "react";
import { Outbox, type OutboxState } from "#capture/outbox/outbox";
import { patientFetch } from "#capture/outbox/patient-fetch";
import { noted, noteOutbox } from "./diary";

let outbox: Outbox | undefined;
/** The one outbox of this tab. It lives as long as the tab, whatever page is shown. Browser only. */
export function theOutbox(): Outbox {
  if (outbox) return outbox;
  outbox = new Outbox({ fetch: noted(patientFetch) });
  noteOutbox(outbox);
  return outbox;
}

const NOTHING: OutboxState = { sending: [], unfinished: [], stayed: [], others: 0, broken: false };

export function useOutbox(): OutboxState {
  return useSyncExternalStore(
    (listener) => theOutbox().subscribe(listener),
    () => theOutbox().snapshot(),
    () => NOTHING,
  );
}
