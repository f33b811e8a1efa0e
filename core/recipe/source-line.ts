import { SECOND, type Micros } from "../time/micros";

/**
 * The source line of a recording: all its takes on one line, so that a moment of any of them is one number. Take number
 * n begins at n - 1 days; a take is at most a day long, and what lies between the end of one and the next is nothing.
 */
export const TAKE_SPAN: Micros = 24 * 3600 * SECOND;

/** How many takes a recording may have: watched spans are folded in milliseconds of 32 bits, which is 49 days. */
export const MOST_TAKES = 48;

/** Where a take begins on the source line. @param position from 1 */
export const startOfTake = (position: number): Micros => (position - 1) * TAKE_SPAN;

/** The position of the take that a moment of the source line is in, from 1. */
export const takeOf = (moment: Micros): number => Math.floor(moment / TAKE_SPAN) + 1;
