import type { KeyRow } from "../player/keys";

/** The keys of the edit page, for the list that `?` opens; the player's own come before them. */
export const EDIT_KEYS: KeyRow[] = [
  { keys: ", .", does: "One frame back or on (with Shift ten)" },
  { keys: "A", does: "The stretch begins here" },
  { keys: "E", does: "The stretch ends here" },
  { keys: "X, Delete", does: "Leave the stretch out" },
  { keys: "B", does: "Put back what is left out of the stretch" },
  { keys: "L", does: "Play what comes before and after the stretch" },
  { keys: "Ctrl + Z", does: "Undo" },
  { keys: "Ctrl + Shift + Z", does: "Do it again" },
  { keys: "N", does: "Stop at pauses and ends, or only at frames" },
  { keys: "W, Shift + W", does: "Wider, narrower" },
];

export interface EditDeeds {
  from: () => unknown;
  to: () => unknown;
  leaveOut: () => unknown;
  putBack: () => unknown;
  around: () => unknown;
  undo: () => unknown;
  redo: () => unknown;
  snap: () => unknown;
  wider: () => unknown;
  narrower: () => unknown;
  step: (frames: number) => unknown;
}

/** @returns whether the key was for the edit */
export function onEditKey(
  event: Pick<KeyboardEvent, "key" | "shiftKey" | "ctrlKey" | "metaKey" | "altKey">,
  deeds: EditDeeds,
): boolean {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.altKey) return false;
  if (event.ctrlKey || event.metaKey) {
    if (key !== "z") return false;
    void (event.shiftKey ? deeds.redo() : deeds.undo());
    return true;
  }
  const step = event.shiftKey ? 10 : 1;
  const deed: Record<string, () => unknown> = {
    ",": () => deeds.step(-1),
    ".": () => deeds.step(1),
    // With Shift, as many keyboards give them.
    ";": () => deeds.step(-step),
    ":": () => deeds.step(step),
    "<": () => deeds.step(-10),
    ">": () => deeds.step(10),
    a: deeds.from,
    e: deeds.to,
    x: deeds.leaveOut,
    Delete: deeds.leaveOut,
    b: deeds.putBack,
    l: deeds.around,
    n: deeds.snap,
    w: event.shiftKey ? deeds.narrower : deeds.wider,
  };
  const found = deed[key];
  if (found) void found();
  return found !== undefined;
}
