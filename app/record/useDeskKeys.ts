import { useEffect, useRef, useState } from "react";
import { deedOf, keyOf, readKeys } from "#core/desk/keys";
import type { Deeds } from "./deeds";
import { useKept } from "./useKept";

/** Whoever writes or chooses there means the letter itself. */
const TYPING =
  "input:not([type=checkbox]):not([type=range]), textarea, select, [contenteditable], [role=dialog], [role=listbox]";

/**
 * The keys of the record desk, as they were left on this computer; pressed ones do what they are for.
 * @param where the window that they are pressed in, if not this page's
 */
export function useDeskKeys(deeds: Deeds, where?: Window) {
  const [keys, change] = useKept("clear-nod-keys", readKeys);
  const [listed, setListed] = useState(false);
  const latest = useRef({ keys, deeds });
  useEffect(() => void (latest.current = { keys, deeds }));
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.repeat || (event.target as Partial<Element> | null)?.closest?.(TYPING)) return;
      const key = keyOf(event);
      if (key === "?") return setListed(true);
      const deed = key && deedOf(latest.current.keys, key);
      const does = deed && latest.current.deeds[deed];
      if (!does) return;
      event.preventDefault();
      does();
    };
    const listening = where ?? window;
    listening.addEventListener("keydown", press);
    return () => listening.removeEventListener("keydown", press);
  }, [where]);
  return {
    keys,
    change,
    listed,
    list: setListed,
  };
}
