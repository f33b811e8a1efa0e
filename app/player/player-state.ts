import type { Micros } from "#core/time/micros";

/** What a player says of itself. */
export interface PlayerState {
  /** the viewer wants it to play */
  playing: boolean;
  /** words stand before its beginning, and it plays when they have stood */
  opening: boolean;
  /** it wants to play, and waits for pictures or sound */
  waiting: boolean;
  time: Micros;
  /** what can be played so far */
  duration: Micros;
  buffered: Micros;
  rate: number;
  volume: number;
  muted: boolean;
  /** the take may still get longer */
  growing: boolean;
  ended: boolean;
  started: boolean;
  /** how often it was moved to another moment, so that skipping can be told from playing */
  seeks: number;
  problem: string | null;
  /** what it plays without, because it cannot be played here; in words */
  without: string | null;
}

/** Before there is a player. */
export const IDLE: PlayerState = {
  playing: false,
  opening: false,
  waiting: false,
  time: 0,
  duration: 0,
  buffered: 0,
  rate: 1,
  volume: 1,
  muted: false,
  growing: false,
  ended: false,
  started: false,
  seeks: 0,
  problem: null,
  without: null,
};
