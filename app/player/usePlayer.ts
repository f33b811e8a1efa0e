import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import type { Micros } from "#core/time/micros";
import type { Layer } from "#server/playback/playback";
import { namesOf, openPlayer, takeEarly, type Opening } from "./early";
import { placesNow, revisionOf } from "./moved";
import { keepPlace } from "./place";
import type { Player } from "./player";
import { IDLE, type PlayerState } from "./player-state";
import { useSound, type Heard } from "./useSound";

declare global {
  interface Window {
    /** the player of this page, for measuring from outside */
    clearNodPlayer?: Player;
  }
}

/** What a player says of itself, to a component that shows all of it. */
export function usePlayerState(player: Player | null): PlayerState {
  return useSyncExternalStore(
    player?.subscribe ?? nothing,
    () => player?.snapshot() ?? IDLE,
    () => IDLE,
  );
}

/**
 * One value of it: the component is drawn again only when that changes. `pick` returns something that is compared by
 * identity.
 */
export function usePlayerValue<T extends string | number | boolean | null>(
  player: Player | null,
  pick: (state: PlayerState) => T,
): T {
  return useSyncExternalStore(
    player?.subscribe ?? nothing,
    () => pick(player?.snapshot() ?? IDLE),
    () => pick(IDLE),
  );
}

/**
 * A player over the media elements of a page. It is made anew when the set of layers changes.
 */
export function usePlayer(opening: Opening, heard: Heard) {
  const elements = useRef(new Map<Layer["role"], HTMLMediaElement>());
  const [player, setPlayer] = useState<Player | null>(null);
  const names = namesOf(opening.layers);
  const token = opening.token;
  const known = useRef(opening);
  known.current = opening;
  /** a player that was replaced, by another layer or another revision: the next one goes on from its moment */
  const before = useRef<{ state: PlayerState; revision: number | null } | null>(null);

  useEffect(() => {
    const element = (role: Layer["role"]) => elements.current.get(role)!;
    const was = before.current?.state.started ? before.current : null;
    let made: Player | null = null;
    let left = false;
    const open = (from?: Micros) => {
      if (left) return;
      made = takeEarly(names, element) ?? openPlayer(known.current, element, from);
      if (!made) return;
      if (was) made.takeOver(was.state);
      setPlayer(made);
      window.clearNodPlayer = made;
    };
    const [first] = known.current.layers;
    if (was?.revision && first && revisionOf(first.url) !== was.revision)
      void placesNow(token, was.revision, [was.state.time]).then(([at]) => open(at));
    else open(was?.state.time);
    const timer = setInterval(() => {
      if (made?.snapshot().started) keepPlace(token, made.snapshot().time);
    }, 1000);
    return () => {
      left = true;
      clearInterval(timer);
      if (!made) return;
      before.current = { state: made.snapshot(), revision: revisionOf(made.url) };
      made.destroy();
      delete window.clearNodPlayer;
    };
  }, [token, names]);

  useEffect(() => player?.setSpans(opening.layers), [player, opening.layers]);
  useSound(player, opening.layers, elements, heard);

  const attach = (role: Layer["role"]) => (element: HTMLMediaElement | null) => {
    if (element) elements.current.set(role, element);
  };
  return { player, attach };
}

const nothing = () => () => undefined;
