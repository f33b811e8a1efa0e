import { parseFragment } from "#core/answers/fragment";
import type { Layer } from "#server/playback/playback";
import { playedHere } from "./open-layer";
import { lastPlace } from "./place";
import { Player, type Source } from "./player";

/** What the served page tells its player. */
export interface Opening {
  token: string;
  layers: Layer[];
  duration: number;
  complete: boolean;
}

export const namesOf = (layers: Layer[]) => layers.map((l) => l.url).join(" ");

/** Makes the player of a page whose media elements are there. */
export function openPlayer(
  { token, layers, duration, complete }: Opening,
  element: (role: Layer["role"]) => HTMLMediaElement,
  from?: number,
): Player | null {
  const sources = playedHere(layers).map((layer): Source => ({
    media: element(layer.role),
    url: layer.url,
    spans: layer.spans,
  }));
  // A link to a moment (Media Fragments) goes before where this browser was last.
  const linked = parseFragment(location.hash)?.at;
  return sources.length > 0 ? new Player(sources, from ?? linked ?? lastPlace(token, duration, complete)) : null;
}

let early: { player: Player; names: string; media: Map<string, HTMLMediaElement> } | null = null;

// A served page has its media elements before it has come alive. Loading begins here, while the rest of the page still
// hydrates.
function begin() {
  const root = document.querySelector<HTMLElement>("[data-opening]");
  if (!root) return;
  const opening = JSON.parse(root.dataset.opening!) as Opening;
  const media = new Map([...root.querySelectorAll<HTMLMediaElement>("[data-layer]")].map((m) => [m.dataset.layer!, m]));
  const player = opening.layers.every((l) => media.has(l.role))
    ? openPlayer(opening, (role) => media.get(role)!)
    : null;
  if (player) early = { player, names: namesOf(opening.layers), media };
}

if (typeof document !== "undefined") {
  // Not DOMContentLoaded: that one waits for the scripts of the whole page.
  if (document.readyState === "loading") document.addEventListener("readystatechange", begin, { once: true });
  else begin();
}

/** The player that began with the served page, once, if it is for these layers in these elements. */
export function takeEarly(names: string, element: (role: Layer["role"]) => HTMLMediaElement): Player | null {
  const had = early;
  early = null;
  if (!had) return null;
  if (had.names === names && [...had.media].every(([role, media]) => element(role as Layer["role"]) === media))
    return had.player;
  had.player.destroy();
  return null;
}
