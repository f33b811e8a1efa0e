interface Waiting<Item, Result> {
  item: Item;
  done: (result: Result) => void;
  failed: (error: unknown) => void;
}

/**
 * Does the same work for several callers at once: while one round runs, whoever comes is gathered for the next. Alone,
 * a caller waits for nobody; in a crowd, many share one statement and one commit.
 */
export class Grouped<Item, Result> {
  #waiting: Waiting<Item, Result>[] = [];
  #running = false;

  /** @param round carries out all items; its results are in the order of the items */
  constructor(
    private readonly round: (items: Item[]) => Promise<Result[]>,
    private readonly most: number,
  ) {}

  /** How many wait for their round. */
  get waiting(): number {
    return this.#waiting.length;
  }

  /** Is nothing waiting, and no round under way? */
  get isIdle(): boolean {
    return !this.#running && this.#waiting.length === 0;
  }

  /** Rejects with what its round rejected with. */
  add(item: Item): Promise<Result> {
    return new Promise((done, failed) => {
      this.#waiting.push({ item, done, failed });
      if (!this.#running) void this.#run();
    });
  }

  /** @returns false when a group of several failed: each then has its own try, so that one bad item fails alone */
  async #settle(group: Waiting<Item, Result>[]): Promise<boolean> {
    try {
      const results = await this.round(group.map((g) => g.item));
      group.forEach(({ done }, i) => done(results[i]!));
    } catch (error) {
      if (group.length > 1) return false;
      group[0]!.failed(error);
    }
    return true;
  }

  async #run(): Promise<void> {
    this.#running = true;
    while (this.#waiting.length > 0) {
      const group = this.#waiting.splice(0, this.most);
      if (!(await this.#settle(group))) for (const one of group) await this.#settle([one]);
    }
    this.#running = false;
  }
}
