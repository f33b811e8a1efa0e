import { useSyncExternalStore } from "react";
import { Outbox, type OutboxState } from "#capture/outbox/outbox";

let outbox: Outbox | undefined;
/** The one outbox of this tab. It lives as long as the tab, whatever page is shown. Browser only. */
export const theOutbox = (): Outbox => (outbox ??= new Outbox());

const NOTHING: OutboxState = { sending: [], unfinished: [], stayed: [], others: 0, broken: false };

export function useOutbox(): OutboxState {
  return useSyncExternalStore(
    (listener) => theOutbox().subscribe(listener),
    () => theOutbox().snapshot(),
    () => NOTHING,
  );
}
