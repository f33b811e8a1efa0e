export interface LayerEvents {
  /** the element moved, waited, got ready, ended: look at it again */
  onChange: () => void;
  /** it cannot go on by itself */
  onFailed: (message: string) => void;
}

/** One playlist in one media element. */
export interface Layer {
  readonly media: HTMLMediaElement;
  /** false once the playlist has its end: nothing more will come */
  readonly growing: boolean;
  /** where it is, in seconds */
  readonly time: number;
  /** can it show the next moment at once? */
  readonly ready: boolean;
  /** it can play no more here, whatever is done: the others go on without it */
  readonly lost: boolean;
  /** where it ends as far as is known, in seconds; 0 while nothing is known */
  readonly end: number;
  destroy(): void;
}

const LOOKED_AT = [
  "timeupdate",
  "waiting",
  "canplay",
  "playing",
  "seeked",
  "ended",
  "durationchange",
  "progress",
  "volumechange",
];

/** Looks again at everything that happens to an element. @returns ends that */
export function follow(media: HTMLMediaElement, look: () => void): () => void {
  for (const name of LOOKED_AT) media.addEventListener(name, look);
  return () => LOOKED_AT.forEach((name) => media.removeEventListener(name, look));
}

/** What a viewer is told when a layer cannot go on. */
export const TROUBLE = {
  gone: "This recording cannot be opened any more. It may have been deleted, or is not shared now.",
  offline: "The connection was lost. Playing goes on when it is back.",
  sound: "The sound cannot be played on this computer. The pictures play without it.",
  picture: "One of the pictures cannot be played in this browser. The rest plays without it.",
  unplayable: (detail: string) => `This browser cannot play the recording (${detail}).`,
};

/** Holes of up to this are stepped over, and from so far before them. Seconds. */
const HOLE = 0.25;
const BEFORE_HOLE = 0.1;

/**
 * Where an element can go on behind a small hole at which it stands; null where it stands at none. Tracks end whole
 * packets apart, so that there may be one where takes follow each other; one that is paused does not step over it.
 */
export function acrossHole({ buffered, currentTime, seeking }: HTMLMediaElement): number | null {
  if (seeking) return null;
  for (let i = 1; i < buffered.length; i++) {
    const [end, next] = [buffered.end(i - 1), buffered.start(i)];
    if (currentTime >= end - BEFORE_HOLE && currentTime < next && next - end <= HOLE) return next;
  }
  return null;
}

/** Can an element show the next moment at once? */
export const isReady = (media: HTMLMediaElement): boolean => !media.seeking && media.readyState >= 3;
