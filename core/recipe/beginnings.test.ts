import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { pictureChanges, SMALL, type PictureChange } from "../media/picture-changes";
import { SECOND } from "../time/micros";
import { beginningsIn } from "./beginnings";

const SIZE = SMALL.width * SMALL.height;
const grey = (level: number, others: { level: number; share: number } = { level, share: 0 }) =>
  Uint8Array.from({ length: SIZE }, (_, i) => (i < SIZE * others.share ? others.level : level));
const joined = (...pictures: Uint8Array[]) => Uint8Array.from(pictures.flatMap((picture) => [...picture]));

describe("changes of a picture", () => {
  it("are told with how much of it is another one; noise and a pointer are none", () => {
    const pick = random(3);
    const noisy = (picture: Uint8Array) => picture.map((level) => level + pick(20) - 10);
    const page = grey(200, { level: 40, share: 0.3 });
    const shots = [page, noisy(page), grey(200, { level: 40, share: 0.31 }), grey(90), grey(90), grey(60)];
    const at = shots.map((_, n) => n * SECOND);
    expect(pictureChanges(joined(...shots), at)).toEqual([
      { at: 3 * SECOND, share: 1 },
      { at: 5 * SECOND, share: 1 },
    ]);
    expect(pictureChanges(joined(grey(10), grey(10, { level: 99, share: 0.4 })), [0, 7])).toEqual([
      { at: 7, share: 0.4 },
    ]);
    expect(pictureChanges(new Uint8Array(0), [])).toEqual([]);
  });

  it("are the greatest, where there are very many", () => {
    const shots = Array.from({ length: 900 }, (_, n) => grey(n % 2 ? 200 : 20));
    const changes = pictureChanges(
      joined(...shots),
      shots.map((_, n) => n),
    );
    expect(changes).toHaveLength(400);
    expect(changes.every(({ at }, i) => i === 0 || at > changes[i - 1]!.at)).toBe(true);
  });
});

describe("chapters that are proposed", () => {
  const change = (seconds: number, share = 0.6): PictureChange => ({ at: seconds * SECOND, share });
  const seconds = (changes: PictureChange[], places: number[], length: number) =>
    beginningsIn(
      changes,
      places.map((s) => s * SECOND),
      length * SECOND,
    ).map((at) => at / SECOND);

  it("begin at the pause beside a change, and at the change where there is none", () => {
    expect(seconds([change(30), change(70)], [12, 28, 33, 60], 120)).toEqual([0, 28, 70]);
  });

  it("are none where hardly anything changes, and not many where very much does", () => {
    expect(seconds([change(30, 0.2)], [], 120)).toEqual([]);
    const all = Array.from({ length: 600 }, (_, n) => change(n, 0.3 + (n % 7) / 20));
    const parts = seconds(all, [], 600);
    expect(parts.length).toBeGreaterThan(6);
    expect(parts.length).toBeLessThanOrEqual(12);
    parts.slice(1).forEach((part, i) => expect(part - parts[i]!).toBeGreaterThanOrEqual(40));
  });

  it("take the greater of two changes that are near, and none at the very beginning or end", () => {
    expect(seconds([change(3), change(40, 0.3), change(44, 0.9), change(118)], [], 120)).toEqual([0, 44]);
  });
});
