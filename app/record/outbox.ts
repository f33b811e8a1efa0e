import { useSyncExternalStore } from "react";
import { Outbox, type OutboxState } from "#capture/outbox/outbox";

let outbox: Outbox | undefined;
/** The one outbox of this tab. It lives as long as the tab, whatever page is shown. Browser only. */
export const theOutbox = (): Outbox => (outbox ??= new Outbox());

const NOTHING: OutboxState = { sending: [], unfinished: [], broken: false };

export function useOutbox(): OutboxState {
  return useSyncExternalStore(
    (listener) => theOutbox().subscribe(listener),
    () => theOutbox().snapshot(),
    () => NOTHING,
  );
}

/** An amount of data as people say it: 3.4 MB. */
export function saidBytes(bytes: number): string {
  if (bytes < 1_000_000) return `${Math.max(1, Math.round(bytes / 1000))} kB`;
  return `${(bytes / 1_000_000).toFixed(bytes < 10_000_000 ? 1 : 0)} MB`;
}
