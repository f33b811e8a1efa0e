import { Problem } from "./http/problem";

/** What is asked for at a place where only so much is done at once. */
export interface TurnsPolicy {
  /** done at the same time */
  atOnce: number;
  /** waiting, of one person or address; and of all together */
  waitingOfOne: number;
  waiting: number;
  /** what is said when there is no place to wait */
  busy: string;
}

/** Whose work it is: of one in a lane. Lanes take turns, and within a lane those whose it is. */
export interface Whose {
  lane?: string;
  one: string;
}

type Go = () => void;

/**
 * Lets some work run, and keeps the rest waiting so that whoever asks for much makes nobody else wait for it: what is
 * next is never of the one who was last, where somebody else waits.
 */
export class Turns {
  #running = 0;
  #lanes = new Ring<Ring<Go[]>>();

  constructor(private readonly policy: TurnsPolicy) {}

  /**
   * Does some work in its turn.
   * @throws {Problem} 503 where too much waits; and as the work
   */
  async take<T>({ lane = "", one }: Whose, work: () => Promise<T>): Promise<T> {
    if (this.#running >= this.policy.atOnce) await this.#wait(lane, one);
    else this.#running++;
    try {
      return await work();
    } finally {
      // The place goes to the next in turn, or is free.
      const next = this.#next();
      if (next) next();
      else this.#running--;
    }
  }

  #waiting = 0;

  #wait(lane: string, one: string): Promise<void> {
    const line = this.#lanes.get(lane, () => new Ring<Go[]>()).get(one, () => []);
    if (line.length >= this.policy.waitingOfOne || this.#waiting >= this.policy.waiting) {
      this.#tidy(lane, one, line);
      throw new Problem(503, "busy", this.policy.busy, { retryAfter: 5 });
    }
    this.#waiting++;
    return new Promise((go) => line.push(go));
  }

  #next(): Go | undefined {
    const lane = this.#lanes.turn();
    const one = lane?.value.turn();
    const go = one?.value.shift();
    if (!go) return undefined;
    this.#waiting--;
    this.#tidy(lane!.key, one!.key, one!.value);
    return go;
  }

  /** Nothing is kept of those who do not wait. */
  #tidy(lane: string, one: string, line: Go[]): void {
    if (line.length > 0) return;
    const ones = this.#lanes.get(lane, () => new Ring<Go[]>());
    ones.delete(one);
    if (ones.size === 0) this.#lanes.delete(lane);
  }
}

/** Values by a key that take turns: whoever had theirs is last from then on. */
class Ring<T> {
  #values = new Map<string, T>();

  get size(): number {
    return this.#values.size;
  }

  get(key: string, make: () => T): T {
    let value = this.#values.get(key);
    if (value === undefined) this.#values.set(key, (value = make()));
    return value;
  }

  delete(key: string): void {
    this.#values.delete(key);
  }

  turn(): { key: string; value: T } | undefined {
    const [first] = this.#values;
    if (!first) return undefined;
    const [key, value] = first;
    this.#values.delete(key);
    this.#values.set(key, value);
    return { key, value };
  }
}
