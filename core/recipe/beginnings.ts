import type { PictureChange } from "../media/picture-changes";
import { SECOND, type Micros } from "../time/micros";
import { nearestPlace } from "./proposals";

/** So much of the picture is another one when something else is shown: less is a menu, or a page that scrolls. */
const ELSE = 0.25;
/** More chapters than this nobody wants proposed, and none as short as that. */
const MOST = 12;
const SHORTEST: Micros = 10 * SECOND;
/** So far from a change a pause belongs to it. */
const NEAR: Micros = 4 * SECOND;

/**
 * Where chapters of a recording could begin: at the pauses in which the picture becomes another one, the greatest
 * changes first.
 * @param changes in the order of time, on a line of its own
 * @param places where one can go on in a pause, in order, on the same line
 * @param length of the line
 * @returns in order, the beginning among them; none where nothing changes
 */
export function beginningsIn(changes: readonly PictureChange[], places: readonly Micros[], length: Micros): Micros[] {
  const apart = Math.max(SHORTEST, length / (MOST + 3));
  const beginnings = [0];
  for (const { at } of changes.filter(({ share }) => share >= ELSE).sort((a, b) => b.share - a.share)) {
    const place = nearestPlace(at, places, NEAR);
    const isApart = place <= length - apart && beginnings.every((one) => Math.abs(one - place) >= apart);
    if (isApart && beginnings.length < MOST) beginnings.push(place);
  }
  return beginnings.length === 1 ? [] : beginnings.sort((a, b) => a - b);
}
