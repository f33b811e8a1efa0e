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
  unplayable: (detail: string) => `This browser cannot play the recording (${detail}).`,
};

/** Can an element show the next moment at once? */
export const isReady = (media: HTMLMediaElement): boolean => !media.seeking && media.readyState >= 3;
