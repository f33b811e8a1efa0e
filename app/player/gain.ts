import { factorOf } from "#core/audio/gain";

/** For each element that was ever louder or quieter than it is: its node, for as long as the element lives. */
const nodes = new WeakMap<HTMLMediaElement, GainNode>();
let context: AudioContext | null = null;

/**
 * Plays an element so many dB louder than it is. One that never had a gain stays outside the browser's sound graph.
 * The element's own volume and mute count as before.
 */
export function setGain(media: HTMLMediaElement, decibels: number): void {
  let node = nodes.get(media);
  if (!node) {
    if (decibels === 0) return;
    context ??= new AudioContext();
    node = context.createGain();
    context.createMediaElementSource(media).connect(node).connect(context.destination);
    nodes.set(media, node);
  }
  node.gain.setTargetAtTime(factorOf(decibels), context!.currentTime, SMOOTH_SECONDS);
}

/** So quickly that nobody waits, and so slowly that nothing clicks. */
const SMOOTH_SECONDS = 0.005;

/** A browser holds sound back until somebody has pressed something: to be called when that was so. */
export function wakeSound(): void {
  if (context?.state === "suspended") void context.resume();
}
