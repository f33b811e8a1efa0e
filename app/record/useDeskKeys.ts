import { useEffect, useRef, useState } from "react";
import { deedOf, keyOf, readKeys, type KeyDeed } from "#core/desk/keys";
import { useKept } from "./useKept";

/** Whoever writes or chooses there means the letter itself. */
const TYPING =
  "input:not([type=checkbox]):not([type=range]), textarea, select, [contenteditable], [role=dialog], [role=listbox]";

/** The keys of the record desk, as they were left on this computer; pressed ones do what they are for. */
export function useDeskKeys(deeds: Partial<Record<KeyDeed, () => void>>) {
  const [keys, change] = useKept("clear-nod-keys", readKeys);
  const [listed, setListed] = useState(false);
  const latest = useRef({ keys, deeds });
  useEffect(() => void (latest.current = { keys, deeds }));
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.repeat || (event.target instanceof Element && event.target.closest(TYPING))) return;
      const key = keyOf(event);
      if (key === "?") return setListed(true);
      const deed = key && deedOf(latest.current.keys, key);
      const does = deed && latest.current.deeds[deed];
      if (!does) return;
      event.preventDefault();
      does();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  return {
    keys,
    change,
    listed,
    list: setListed,
  };
}
