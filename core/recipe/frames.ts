import { PICTURE_RATE } from "../media/tracks";
import { SECOND, type Micros } from "../time/micros";

/** Every end of a stretch lies on the grid of pictures, so that a length is a whole number of frames. */

/** The frame of the grid that is nearest to a moment. Takes begin on it, so there is one for the whole source line. */
export const frameAt = (moment: Micros): number => Math.round((moment * PICTURE_RATE) / SECOND);

/** The moment at which a frame of the grid begins. */
export const momentOf = (frame: number): Micros => Math.round((frame * SECOND) / PICTURE_RATE);

/** The moment of the grid that is nearest. */
export const onGrid = (moment: Micros): Micros => momentOf(frameAt(moment));

/** The first moment of the grid by which something has ended. The tolerance is what rounding to microseconds takes. */
export const gridAfter = (moment: Micros): Micros => momentOf(Math.ceil((moment * PICTURE_RATE) / SECOND - 1e-4));

/** The moment at which the picture begins that is shown at a moment. */
export const gridBefore = (moment: Micros): Micros => momentOf(Math.floor((moment * PICTURE_RATE) / SECOND + 1e-4));
