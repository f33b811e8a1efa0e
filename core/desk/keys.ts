/** What can be done at the record desk with one key. */
export const KEY_DEEDS = [
  "record",
  "pause",
  "stop",
  "microphone",
  "sound",
  "scene",
  "picture",
  "corner",
  "camera",
  "mistake",
  "back",
  "still",
  "draw",
  "undo",
  "clear",
  "float",
] as const;
export type KeyDeed = (typeof KEY_DEEDS)[number];

/** The key of each deed, as `keyOf` names it; "" for none. */
export type DeskKeys = Record<KeyDeed, string>;

export const USUAL_KEYS: DeskKeys = {
  record: "R",
  pause: "P",
  stop: "E",
  microphone: "V",
  sound: "U",
  scene: "S",
  picture: "C",
  corner: "Q",
  camera: "N",
  mistake: "M",
  back: "B",
  still: "T",
  draw: "D",
  undo: "Z",
  clear: "K",
  float: "W",
};

export const DEED_NAMES: Record<KeyDeed, string> = {
  record: "Start recording",
  pause: "Pause, and go on",
  stop: "Stop",
  microphone: "Mute or unmute my microphone",
  sound: "Mute or unmute the computer",
  scene: "The next scene",
  picture: "Hide or show my picture",
  corner: "My picture in the next corner",
  camera: "The next camera",
  mistake: "That went wrong",
  back: "Go back, and go on from there",
  still: "Save a picture of this moment",
  draw: "Draw on the picture, and stop drawing",
  undo: "Take back the last mark",
  clear: "Clear what is drawn",
  float: "Controls in a window above all others, and back",
};

/** Keys that have a meaning of their own on the page: the list of keys, and the other voice of a rehearsal. */
const TAKEN: Record<string, string> = { "?": "this list", X: "the other voice of a rehearsal" };

interface Press {
  key: string;
  shiftKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}

/**
 * The name of what was pressed: `E`, `Shift+E`, `7`, `F8`. Null for keys that move or press things, and for those with
 * Ctrl, Alt or Meta, which belong to the browser and the system.
 */
export function keyOf({ key, shiftKey, ctrlKey, metaKey, altKey }: Press): string | null {
  if (ctrlKey || metaKey || altKey) return null;
  if (/^F\d{1,2}$/.test(key)) return shiftKey ? `Shift+${key}` : key;
  if ([...key].length !== 1 || key.trim() === "") return null;
  const isLetter = key.toUpperCase() !== key.toLowerCase();
  // Of a sign, Shift is a part already.
  return isLetter && shiftKey ? `Shift+${key.toUpperCase()}` : key.toUpperCase();
}

/** The deed of a key; null where it has none. */
export const deedOf = (keys: DeskKeys, key: string): KeyDeed | null =>
  KEY_DEEDS.find((deed) => keys[deed] === key) ?? null;

/** The keys with another one for a deed, or why it cannot have that. */
export function withKey(keys: DeskKeys, deed: KeyDeed, key: string): { keys: DeskKeys } | { problem: string } {
  const other = deedOf(keys, key);
  if (TAKEN[key]) return { problem: `${key} is for ${TAKEN[key]}. Press another key.` };
  if (other && other !== deed) return { problem: `${key} is for “${DEED_NAMES[other]}” already. Press another key.` };
  return { keys: { ...keys, [deed]: key } };
}

/** What was kept, as keys: the usual ones where it is not known, or where two would be the same. */
export function readKeys(kept: unknown): DeskKeys {
  const of = (kept ?? {}) as Partial<Record<KeyDeed, unknown>>;
  const isKey = (key: unknown): key is string => typeof key === "string" && key.length <= 12;
  const chosen = new Set(Object.values(of));
  // A deed that is new has its usual key, unless that was chosen for another one.
  const usual = (deed: KeyDeed) => (chosen.has(USUAL_KEYS[deed]) ? "" : USUAL_KEYS[deed]);
  const keys = Object.fromEntries(KEY_DEEDS.map((d) => [d, isKey(of[d]) ? of[d] : usual(d)])) as DeskKeys;
  const used = Object.values(keys).filter((key) => key !== "");
  return new Set(used).size === used.length && !used.some((key) => TAKEN[key]) ? keys : USUAL_KEYS;
}
