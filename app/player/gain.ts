/** For each element that was ever louder or quieter than it is: its node, for as long as the element lives. */
const nodes = new WeakMap<HTMLMediaElement, GainNode>();
let context: AudioContext | null = null;

/**
 * Plays an element by this factor of amplitude louder than it is. One that was never anything else than it is stays
 * outside the browser's sound graph. The element's own volume and mute count as before.
 * @param seconds how slowly it gets there: two thirds of the way
 */
export function setFactor(media: HTMLMediaElement, factor: number, seconds = SMOOTH_SECONDS): void {
  let node = nodes.get(media);
  if (!node) {
    if (factor === 1) return;
    context ??= new AudioContext();
    node = context.createGain();
    context.createMediaElementSource(media).connect(node).connect(context.destination);
    nodes.set(media, node);
  }
  node.gain.setTargetAtTime(factor, context!.currentTime, seconds);
}

/** So quickly that nobody waits, and so slowly that nothing clicks. */
const SMOOTH_SECONDS = 0.012;

/** A browser holds sound back until somebody has pressed something: to be called when that was so. */
export function wakeSound(): void {
  if (context?.state === "suspended") void context.resume();
}
