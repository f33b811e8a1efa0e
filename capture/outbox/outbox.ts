import type { TrackKind } from "#core/media/tracks";
import { backOff, Sender, type SendState } from "./sender";
import { BrowserStore, type KeptTake, type PartStore } from "./store";

/** A take that an earlier visit left on this computer and that nobody is sending. */
export interface Unfinished {
  take: KeptTake;
  parts: number;
  bytes: number;
}

export interface OutboxState {
  sending: { take: KeptTake; state: SendState }[];
  unfinished: Unfinished[];
}

/**
 * All takes that are on their way, whatever page is shown. One tab sends a take at a time: it holds a lock named after
 * the take,
 * which the browser frees when the tab dies.
 */
export class Outbox {
  #senders = new Map<string, Sender>();
  #unfinished: Unfinished[] = [];
  #listeners = new Set<() => void>();
  #snapshot: OutboxState = { sending: [], unfinished: [] };
  #wakers = new Set<() => void>();
  #release = new Map<string, () => void>();

  constructor(private readonly store: PartStore = new BrowserStore()) {
    window.addEventListener("online", () => this.retry());
    window.addEventListener("beforeunload", (event) => {
      if (this.unsent > 0) event.preventDefault();
    });
    void this.look();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): OutboxState => this.#snapshot;

  /** Bytes that are only on this computer and are being sent from this tab. */
  get unsent(): number {
    return [...this.#senders.values()].reduce((sum, s) => sum + s.state.bytes, 0);
  }

  /** Tries everything that waits again, now. */
  retry(): void {
    for (const wake of [...this.#wakers]) wake();
  }

  /** Starts to send a new take. */
  async open(take: KeptTake): Promise<Sender> {
    await this.#lock(take.takeId);
    await this.store.addTake(take);
    const sender = this.#sender(take);
    this.#changed();
    return sender;
  }

  /** Looks for takes that were left behind. */
  async look(): Promise<void> {
    const found: Unfinished[] = [];
    for (const take of await this.store.takes()) {
      if (this.#senders.has(take.takeId) || !(await isFree(take.takeId))) continue;
      const parts = await this.store.list(take.takeId);
      found.push({ take, parts: parts.length, bytes: parts.reduce((sum, p) => sum + p.size, 0) });
    }
    this.#unfinished = found;
    this.#changed();
  }

  /** Sends what an earlier visit left, and closes the take with what there is. */
  async sendRest(takeId: string): Promise<void> {
    const left = this.#unfinished.find((u) => u.take.takeId === takeId);
    if (!left || !(await this.#lock(takeId, true))) return void this.look();
    this.#unfinished = this.#unfinished.filter((u) => u !== left);
    const sender = this.#sender(left.take);
    this.#changed();
    const expected = left.take.expected ?? (await this.#whatIsThere(left.take));
    await sender.restore();
    await sender.finish(expected, left.take.layout);
  }

  /** Closes a take of this tab with what there is, after its recorder broke. */
  async salvage(takeId: string): Promise<void> {
    const sender = this.#senders.get(takeId);
    if (sender) await sender.finish(await this.#whatIsThere(sender.take), sender.take.layout);
  }

  async throwAway(takeId: string): Promise<void> {
    const left = this.#unfinished.find((u) => u.take.takeId === takeId);
    const sender = this.#senders.get(takeId) ?? (left && this.#sender(left.take));
    this.#unfinished = this.#unfinished.filter((u) => u !== left);
    await sender?.discard();
    this.#forget(takeId);
  }

  /** For a take that never got its end: the parts without a gap from the first, here and on the server together. */
  async #whatIsThere({ takeId, ingest }: KeptTake): Promise<Partial<Record<TrackKind, number>>> {
    const have = new Map<TrackKind, Set<number>>();
    const add = (kind: TrackKind, number: number) => have.set(kind, (have.get(kind) ?? new Set()).add(number));
    for (const { kind, number } of await this.store.list(takeId)) add(kind, number);
    for (let failures = 1; ; failures++) {
      const answer = await fetch(ingest).catch(() => null);
      if (answer?.ok) {
        const { stored } = (await answer.json()) as { stored: Partial<Record<TrackKind, number[]>> };
        for (const [kind, numbers] of Object.entries(stored)) for (const n of numbers) add(kind as TrackKind, n);
        break;
      }
      // The take itself is gone from the server: nothing more can be told about it.
      if (answer?.status === 404) break;
      await this.#wait(backOff(failures));
    }
    return Object.fromEntries(
      [...have].map(([kind, numbers]) => {
        let last = 0;
        while (numbers.has(last + 1)) last++;
        return [kind, last];
      }),
    );
  }

  #sender(take: KeptTake): Sender {
    const sender = new Sender(take, this.store, {
      fetch: (url, init) => fetch(url, init),
      wait: (ms) => this.#wait(ms),
      onChange: () => {
        if (sender.state.complete) this.#forget(take.takeId);
        this.#changed();
      },
    });
    this.#senders.set(take.takeId, sender);
    return sender;
  }

  #forget(takeId: string): void {
    this.#senders.delete(takeId);
    this.#release.get(takeId)?.();
    this.#release.delete(takeId);
    this.#changed();
  }

  #wait(ms: number): Promise<void> {
    return new Promise((done) => {
      const wake = () => {
        clearTimeout(timer);
        this.#wakers.delete(wake);
        done();
      };
      const timer = setTimeout(wake, ms);
      this.#wakers.add(wake);
    });
  }

  /** @returns whether this tab now holds the take */
  #lock(takeId: string, ifAvailable = false): Promise<boolean> {
    return new Promise((held, failed) => {
      navigator.locks
        .request(lockName(takeId), { ifAvailable }, (lock) => {
          held(lock !== null);
          if (lock) return new Promise<void>((release) => this.#release.set(takeId, release));
        })
        .catch(failed);
    });
  }

  #changed(): void {
    this.#snapshot = {
      sending: [...this.#senders.values()].map(({ take, state }) => ({ take, state })),
      unfinished: this.#unfinished,
    };
    this.#listeners.forEach((listener) => listener());
  }
}

const lockName = (takeId: string) => `take-${takeId}`;

async function isFree(takeId: string): Promise<boolean> {
  const { held = [] } = await navigator.locks.query();
  return !held.some((lock) => lock.name === lockName(takeId));
}
