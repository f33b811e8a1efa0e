import { Problem } from "./problem";

const MEGA = 1024 * 1024;
/** Of bodies that are on their way, so much is held: of one who sends them, and of all. Bytes */
const MOST_OF_ONE = 128 * MEGA;
const MOST = 512 * MEGA;

/** Bytes of requests that have come in part. What never ends is held by nobody for long, and by one not for all. */
export class InHand {
  #all = 0;
  #ofOne = new Map<string, number>();

  constructor(
    private readonly most = MOST,
    private readonly mostOfOne = MOST_OF_ONE,
  ) {}

  get bytes(): number {
    return this.#all;
  }

  /** @param one whose they are, by any name that stays the same @throws {Problem} 503 where there is no room */
  take(one: string, bytes: number): void {
    const own = (this.#ofOne.get(one) ?? 0) + bytes;
    if (own > this.mostOfOne || this.#all + bytes > this.most)
      throw new Problem(503, "busy", "Too much is being sent at this moment. Send it again in a few seconds.", {
        retryAfter: 5,
      });
    this.#all += bytes;
    this.#ofOne.set(one, own);
  }

  give(one: string, bytes: number): void {
    const left = (this.#ofOne.get(one) ?? 0) - bytes;
    this.#all -= bytes;
    if (left > 0) this.#ofOne.set(one, left);
    else this.#ofOne.delete(one);
  }
}

/** Those of this process. */
export const inHand = new InHand();
