import type { Player } from "./player";
import { RATES } from "./player";

const SECOND = 1_000_000;

export interface KeyRow {
  keys: string;
  does: string;
}

/** The keys of every player, for the list that `?` opens. */
export const KEYS: KeyRow[] = [
  { keys: "Space", does: "Play or pause" },
  { keys: "← →", does: "5 seconds back or on" },
  { keys: "Shift + ← →", does: "20 seconds back or on" },
  { keys: "Home", does: "To the start" },
  { keys: "↑ ↓", does: "Louder, quieter" },
  { keys: "M", does: "Sound off or on" },
  { keys: "− +", does: "Slower, faster" },
  { keys: "P", does: "Hide or show the camera picture" },
  { keys: "T", does: "Captions off or on" },
  { keys: "F", does: "Full screen" },
];

/** Those of whoever answers. */
export const ANSWER_KEYS: KeyRow[] = [
  { keys: "1 to 5", does: "React at this moment" },
  { keys: "C", does: "Comment at this moment" },
];

export interface KeyDeeds {
  toggleCamera: () => void;
  toggleFull: () => void;
  showKeys: () => void;
  toggleCaptions: () => void;
  comment: () => void;
  /** by the reaction's place in the row, from 0 */
  react: (place: number) => void;
}

/** @returns whether the key was for the player */
export function onPlayerKey(
  event: Pick<KeyboardEvent, "key" | "shiftKey" | "ctrlKey" | "metaKey" | "altKey">,
  player: Player,
  deeds: KeyDeeds,
): boolean {
  if (event.ctrlKey || event.metaKey || event.altKey) return false;
  const { time, volume, muted, rate } = player.snapshot();
  const step = (event.shiftKey ? 20 : 5) * SECOND;
  const beside = (by: number) =>
    RATES[Math.max(0, Math.min(RATES.length - 1, RATES.findIndex((r) => r >= rate) + by))]!;
  const deed: Record<string, () => void> = {
    " ": () => player.toggle(),
    ArrowLeft: () => player.seek(time - step),
    ArrowRight: () => player.seek(time + step),
    Home: () => player.seek(0),
    ArrowUp: () => player.setVolume(volume + 0.1),
    ArrowDown: () => player.setVolume(volume - 0.1),
    m: () => player.setMuted(!muted),
    "-": () => player.setRate(beside(-1)),
    "+": () => player.setRate(beside(1)),
    p: deeds.toggleCamera,
    f: deeds.toggleFull,
    t: deeds.toggleCaptions,
    c: deeds.comment,
    ...Object.fromEntries([0, 1, 2, 3, 4].map((place) => [String(place + 1), () => deeds.react(place)])),
    "?": deeds.showKeys,
  };
  const found = deed[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  found?.();
  return found !== undefined;
}
