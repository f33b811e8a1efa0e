/**
 * Does the same work for several callers at once: while one round runs, whoever comes is gathered for the next. Alone,
 * a caller waits for
 * nobody; in a crowd, many share one statement and one commit.
 */
export class Grouped<Item, Result> {
  #waiting: { item: Item; done: (result: Result) => void; failed: (error: unknown) => void }[] = [];
  #running = false;

  /** @param round carries out all items; its results are in the order of the items */
  constructor(
    private readonly round: (items: Item[]) => Promise<Result[]>,
    private readonly most: number,
  ) {}

  /** Rejects with what its round rejected with. */
  add(item: Item): Promise<Result> {
    return new Promise((done, failed) => {
      this.#waiting.push({ item, done, failed });
      if (!this.#running) void this.#run();
    });
  }

  async #run(): Promise<void> {
    this.#running = true;
    while (this.#waiting.length > 0) {
      const group = this.#waiting.splice(0, this.most);
      try {
        const results = await this.round(group.map((g) => g.item));
        group.forEach(({ done }, i) => done(results[i]!));
      } catch (error) {
        for (const { failed } of group) failed(error);
      }
    }
    this.#running = false;
  }
}
