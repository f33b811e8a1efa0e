import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import type { Layer } from "#server/playback/playback";
import { keepPlace, lastPlace } from "./place";
import { Player, type PlayerState } from "./player";

const IDLE: PlayerState = {
  ...{ playing: false, waiting: false, time: 0, duration: 0, buffered: 0, rate: 1, volume: 1, muted: false },
  ...{ growing: false, ended: false, started: false, problem: null },
};

declare global {
  interface Window {
    /** the player of this page, for measuring from outside */
    clearNodPlayer?: Player;
  }
}

/** A player over the media elements of a page. It is made anew when the set of layers changes. */
export function usePlayer(token: string, layers: Layer[], duration: number, complete: boolean) {
  const elements = useRef(new Map<Layer["role"], HTMLMediaElement>());
  const [player, setPlayer] = useState<Player | null>(null);
  const names = layers.map((l) => l.url).join(" ");
  const known = useRef({ layers, duration, complete });
  known.current = { layers, duration, complete };

  useEffect(() => {
    const { layers, duration, complete } = known.current;
    const source = (layer: Layer) => ({ media: elements.current.get(layer.role)!, url: layer.url });
    const [lead, ...followers] = layers;
    if (!lead) return;
    const made = new Player(source(lead), followers.map(source), lastPlace(token, duration, complete));
    setPlayer(made);
    window.clearNodPlayer = made;
    const timer = setInterval(() => made.snapshot().started && keepPlace(token, made.snapshot().time), 1000);
    return () => {
      clearInterval(timer);
      made.destroy();
      delete window.clearNodPlayer;
    };
  }, [token, names]);

  const state = useSyncExternalStore(player?.subscribe ?? nothing, () => player?.snapshot() ?? IDLE, () => IDLE);
  const attach = (role: Layer["role"]) => (element: HTMLMediaElement | null) => {
    if (element) elements.current.set(role, element);
  };
  return { player, state, attach };
}

const nothing = () => () => undefined;
