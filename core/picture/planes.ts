import type { Rect } from "../layout/layout";

/**
 * One plane of a picture: rows of samples, so many parts to each of them. Of I420 there are three planes of one part,
 * of NV12 two, the second of two parts, and of RGBA one of four.
 */
export interface Plane {
  data: Uint8Array;
  /** samples in a row, and rows */
  width: number;
  height: number;
  /** bytes from one row to the next */
  stride: number;
  parts: number;
}

/** Where in a whole picture something is: 0 nowhere, 255 there. */
export interface Alpha {
  data: Uint8Array | Uint8ClampedArray;
  width: number;
  height: number;
  /** bytes from one value to the next, and of the first */
  step: number;
  first: number;
}

/** As in a mirror. In place. */
export function mirror({ data, width, height, stride, parts }: Plane): void {
  for (let row = 0; row < height; row++) {
    const begin = row * stride;
    if (parts === 1) data.subarray(begin, begin + width).reverse();
    else
      for (let left = begin, right = begin + (width - 1) * parts; left < right; left += parts, right -= parts)
        for (let part = 0; part < parts; part++) {
          const kept = data[left + part]!;
          data[left + part] = data[right + part]!;
          data[right + part] = kept;
        }
  }
}

/** How many cells a picture is blurred to, along its longer side: nothing that could be read is left. */
const CELLS = 40;

/**
 * Blurs a plane but for where somebody is. In place.
 * @param alpha where they are in the whole picture; null to blur all of it
 * @param seen which part of the whole picture this is, in shares
 */
export function blurBehind(plane: Plane, alpha: Alpha | null, seen: Rect): void {
  for (let part = 0; part < plane.parts; part++) blurPart(plane, part, alpha, seen);
}

/** The loops over samples are the work of this file: no more stands in them than has to. */
function blurPart(plane: Plane, part: number, alpha: Alpha | null, seen: Rect): void {
  const { data, width, height, stride, parts } = plane;
  const cell = Math.max(1, Math.ceil(Math.max(width, height) / CELLS));
  const small = soften(shrunk(plane, part, cell));
  const across = steps(width, small.width, 1 / cell, 0);
  const row = new Float32Array(small.width);
  const seenAcross = alpha && steps(width, alpha.width, (seen.width * alpha.width) / width, seen.x * alpha.width);
  const there = new Float32Array(alpha?.width ?? 0);
  for (let y = 0; y < height; y++) {
    const down = between(y, small.height, 1 / cell, 0);
    const [above, below] = [down.index * small.width, down.next * small.width];
    for (let i = 0; i < row.length; i++) {
      const value = small.data[above + i]!;
      row[i] = value + (small.data[below + i]! - value) * down.share;
    }
    const begin = y * stride + part;
    if (!alpha || !seenAcross) {
      for (let x = 0, at = begin; x < width; x++, at += parts) {
        const from = row[across.index[x]!]!;
        data[at] = from + (row[across.next[x]!]! - from) * across.share[x]! + 0.5;
      }
      continue;
    }
    // It is soft and in small: for every second row is often enough.
    if (y % 2 === 0) alphaAt(alpha, y, (seen.height * alpha.height) / height, seen.y * alpha.height, there);
    for (let x = 0, at = begin; x < width; x++, at += parts) {
      const near = there[seenAcross.index[x]!]!;
      const person = near + (there[seenAcross.next[x]!]! - near) * seenAcross.share[x]!;
      if (person > 0.996) continue;
      const from = row[across.index[x]!]!;
      const behind = from + (row[across.next[x]!]! - from) * across.share[x]!;
      data[at] = behind + (data[at]! - behind) * person + 0.5;
    }
  }
}

/** A row of an alpha for a row of a picture, from 0 to 1. */
function alphaAt(
  { data, width, height, step, first }: Alpha,
  y: number,
  scale: number,
  offset: number,
  to: Float32Array,
) {
  const { index, next, share } = between(y, height, scale, offset);
  const down = (next - index) * width * step;
  for (let i = 0, at = index * width * step + first; i < to.length; i++, at += step)
    to[i] = (data[at]! + (data[at + down]! - data[at]!) * share) / 255;
}

/** Between which two of `count` values a place lies, and how far it is to the second. */
function between(place: number, count: number, scale: number, offset: number) {
  const at = Math.min(count - 1, Math.max(0, offset + (place + 0.5) * scale - 0.5));
  const index = Math.floor(at);
  return { index, next: Math.min(count - 1, index + 1), share: at - index };
}

/** The same for all places of a row. */
function steps(places: number, count: number, scale: number, offset: number) {
  const [index, next] = [new Uint16Array(places), new Uint16Array(places)];
  const share = new Float32Array(places);
  for (let place = 0; place < places; place++) {
    const at = between(place, count, scale, offset);
    [index[place], next[place], share[place]] = [at.index, at.next, at.share];
  }
  return { index, next, share };
}

interface Small {
  data: Float32Array;
  width: number;
  height: number;
}

/** The mean of each cell. */
function shrunk({ data, width, height, stride, parts }: Plane, part: number, cell: number): Small {
  const [wide, high] = [Math.ceil(width / cell), Math.ceil(height / cell)];
  const means = new Float32Array(wide * high);
  for (let y = 0; y < height; y++) {
    const to = Math.floor(y / cell) * wide;
    for (let n = 0, x = 0, at = y * stride + part; n < wide; n++) {
      let sum = 0;
      for (const end = Math.min(width, x + cell); x < end; x++, at += parts) sum += data[at]!;
      means[to + n]! += sum;
    }
  }
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++)
      means[y * wide + x]! /= Math.min(cell, width - x * cell) * Math.min(cell, height - y * cell);
  return { data: means, width: wide, height: high };
}

/** Each cell with its neighbours, so that no cell is seen as one. */
function soften({ data, width, height }: Small): Small {
  const out = new Float32Array(data.length);
  const within = (value: number, count: number) => Math.min(count - 1, Math.max(0, value));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++)
          sum +=
            data[within(y + dy, height) * width + within(x + dx, width)]! * (2 - Math.abs(dx)) * (2 - Math.abs(dy));
      out[y * width + x] = sum / 16;
    }
  return { data: out, width, height };
}
