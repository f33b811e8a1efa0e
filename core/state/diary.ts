/** What stands beside a thing that was done: short words and numbers, and nothing that opens something. */
export type DiaryMore = Record<string, string | number | boolean | null | undefined>;

export interface DiaryEntry {
  /** ISO 8601 */
  at: string;
  what: string;
  more?: DiaryMore;
  /** how often the same was done again, one after the other */
  again?: number;
}

/** What was done, the newest last; of many the last are kept, for whoever has to find out why something failed. */
export class Diary {
  #entries: DiaryEntry[];

  constructor(
    entries: readonly DiaryEntry[] = [],
    private readonly most = 200,
    private readonly now: () => number = Date.now,
  ) {
    this.#entries = entries.slice(-most);
  }

  note(what: string, more?: DiaryMore): void {
    const last = this.#entries.at(-1);
    if (last && last.what === what && JSON.stringify(last.more) === JSON.stringify(more)) {
      last.again = (last.again ?? 0) + 1;
      return;
    }
    this.#entries.push({ at: new Date(this.now()).toISOString(), what, ...(more && { more }) });
    if (this.#entries.length > this.most) this.#entries.shift();
  }

  get entries(): readonly DiaryEntry[] {
    return this.#entries;
  }
}
