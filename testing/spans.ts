import type { SpanColumns } from "../core/viewing/fold";

/** A small generator of its own, so that a failure can be seen again. */
function random(seed: number) {
  return () => (seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31) / 2 ** 31;
}

export function someSpans(count: number, viewers: number, length: number, seed: number): SpanColumns {
  const next = random(seed);
  const columns = { viewer: new Uint32Array(count), from: new Uint32Array(count), to: new Uint32Array(count) };
  for (let i = 0; i < count; i++) {
    columns.viewer[i] = Math.floor(next() * viewers);
    columns.from[i] = Math.floor(next() * length);
    columns.to[i] = Math.min(length, columns.from[i]! + Math.floor(next() * 900) - 20);
  }
  return columns;
}
