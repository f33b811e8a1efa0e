import { Problem } from "../http/problem";

/** So many may stand in one line; a class that opens a link at once is far fewer. */
export const MOST_WAITING = 2_000;
export const crowded = () =>
  new Problem(503, "busy", "Very many people are here at once. Try again in a moment.", { retryAfter: 2 });

/**
 * Work of one name is done one after the other in this process. Whoever waits holds nothing that others need, such as a
 * connection of the pool.
 */
export class Lines {
  #ends = new Map<string, { last: Promise<unknown>; waiting: number }>();

  constructor(private readonly most = MOST_WAITING) {}

  /** @throws {Problem} 503 when very many wait already */
  async stand<T>(name: string, work: () => Promise<T>): Promise<T> {
    const line = this.#ends.get(name) ?? { last: Promise.resolve(), waiting: 0 };
    if (line.waiting >= this.most) throw crowded();
    line.waiting++;
    this.#ends.set(name, line);
    const mine = line.last.then(work);
    line.last = mine.catch(() => undefined);
    try {
      return await mine;
    } finally {
      if (--line.waiting === 0) this.#ends.delete(name);
    }
  }
}
