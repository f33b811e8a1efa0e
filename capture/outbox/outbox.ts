import { Watchable } from "#core/state/watchable";
import type { TrackKind } from "#core/media/tracks";
import { backOff, Sender, withoutGap, type Fetch, type SendState } from "./sender";
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
  /** this browser keeps nothing for pages (as in some private windows): nothing can be recorded here */
  broken: boolean;
}

/** What an outbox works with; tests give others. */
export interface OutboxParts {
  store?: PartStore;
  fetch?: Fetch;
  locks?: Pick<LockManager, "request" | "query">;
  window?: Pick<Window, "addEventListener">;
}

/**
 * All takes that are on their way, whatever page is shown. One tab sends a take at a time: it holds a lock named after
 * the take, which the browser frees when the tab dies.
 */
export class Outbox extends Watchable<OutboxState> {
  #senders = new Map<string, Sender>();
  #unfinished: Unfinished[] = [];
  #broken = false;
  #wakers = new Set<() => void>();
  #release = new Map<string, () => void>();
  readonly #store: PartStore;
  readonly #fetch: Fetch;
  readonly #locks: Pick<LockManager, "request" | "query">;

  constructor(parts: OutboxParts = {}) {
    super({ sending: [], unfinished: [], broken: false });
    this.#store = parts.store ?? new BrowserStore();
    this.#fetch = parts.fetch ?? ((url, init) => fetch(url, init));
    this.#locks = parts.locks ?? navigator.locks;
    const page = parts.window ?? window;
    page.addEventListener("online", () => this.retry());
    page.addEventListener("beforeunload", (event) => {
      if (this.unsent > 0) event.preventDefault();
    });
    void this.look();
  }

  /** Bytes that are only on this computer and are being sent from this tab. */
  get unsent(): number {
    return [...this.#senders.values()].reduce((sum, s) => sum + s.state.bytes, 0);
  }

  /** Tries everything that waits again, now. */
  retry(): void {
    for (const wake of [...this.#wakers]) wake();
  }

  /** Starts to send a new take. @throws when this browser cannot keep it */
  async open(take: KeptTake): Promise<Sender> {
    await this.#lock(take.takeId);
    try {
      await this.#store.addTake(take);
    } catch (cause) {
      this.#unlock(take.takeId);
      throw new Error(
        "This browser does not let the page keep anything, so nothing was recorded. Try a normal window.",
        {
          cause,
        },
      );
    }
    const sender = this.#sender(take);
    this.#changed();
    return sender;
  }

  /** Looks for takes that were left behind. */
  async look(): Promise<void> {
    const found: Unfinished[] = [];
    try {
      for (const take of await this.#store.takes()) {
        if (this.#senders.has(take.takeId) || !(await this.#isFree(take.takeId))) continue;
        if (take.discarded) {
          // Thrown away while the server could not be reached.
          void this.throwAway(take);
          continue;
        }
        const parts = await this.#store.list(take.takeId);
        found.push({ take, parts: parts.length, bytes: parts.reduce((sum, p) => sum + p.size, 0) });
      }
      this.#broken = false;
    } catch {
      this.#broken = true;
    }
    this.#unfinished = found;
    this.#changed();
  }

  /** Sends what an earlier visit left, and closes the take with what there is. */
  async sendRest(takeId: string): Promise<void> {
    const left = this.#unfinished.find((u) => u.take.takeId === takeId);
    if (!left || !(await this.#lock(takeId, true))) return this.look();
    this.#unfinished = this.#unfinished.filter((u) => u !== left);
    const sender = this.#sender(left.take);
    this.#changed();
    const expected = left.take.expected ?? (await this.#whatIsThere(left.take));
    await sender.restore();
    await sender.finish(expected);
  }

  /** Closes a take of this tab with what there is, after its recorder broke. */
  async salvage(takeId: string): Promise<void> {
    const sender = this.#senders.get(takeId);
    if (sender) await sender.finish(await this.#whatIsThere(sender.take));
  }

  /** Throws a take away that this tab sends, or that nobody sends. What another tab is sending is left alone. */
  async throwAway(take: KeptTake): Promise<void> {
    let sender = this.#senders.get(take.takeId);
    if (!sender) {
      if (!(await this.#lock(take.takeId, true))) return this.look();
      sender = this.#sender(take);
    }
    this.#unfinished = this.#unfinished.filter((u) => u.take.takeId !== take.takeId);
    const { told } = await sender.discard();
    // Off line it may take long; nobody has to wait for that.
    void told.then(() => this.#forget(take.takeId));
    this.#changed();
  }

  /** For a take that never got its end: the parts without a gap from the first, here and on the server together. */
  async #whatIsThere({ takeId, ingest }: KeptTake): Promise<Partial<Record<TrackKind, number>>> {
    const have = new Map<TrackKind, number[]>();
    const add = (kind: TrackKind, number: number) => have.set(kind, [...(have.get(kind) ?? []), number]);
    for (const { kind, number } of await this.#store.list(takeId)) add(kind, number);
    for (let failures = 1; ; failures++) {
      const answer = await this.#fetch(ingest, {}).catch(() => null);
      if (answer?.ok) {
        const { stored } = (await answer.json()) as { stored: Partial<Record<TrackKind, number[]>> };
        for (const [kind, numbers] of Object.entries(stored)) numbers.forEach((n) => add(kind as TrackKind, n));
        break;
      }
      // The take itself is gone from the server: nothing more can be told about it.
      if (answer?.status === 404) break;
      await this.#wait(backOff(failures));
    }
    return Object.fromEntries([...have].map(([kind, numbers]) => [kind, withoutGap(numbers)]));
  }

  #sender(take: KeptTake): Sender {
    const sender = new Sender(take, this.#store, {
      fetch: this.#fetch,
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
    this.#unlock(takeId);
    this.#changed();
  }

  #unlock(takeId: string): void {
    this.#release.get(takeId)?.();
    this.#release.delete(takeId);
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
      this.#locks
        .request(lockName(takeId), { ifAvailable }, (lock) => {
          held(lock !== null);
          if (lock) return new Promise<void>((release) => this.#release.set(takeId, release));
        })
        .catch(failed);
    });
  }

  async #isFree(takeId: string): Promise<boolean> {
    const { held = [] } = await this.#locks.query();
    return !held.some((lock) => lock.name === lockName(takeId));
  }

  #changed(): void {
    this.set({
      sending: [...this.#senders.values()].filter((s) => !s.take.discarded).map(({ take, state }) => ({ take, state })),
      unfinished: this.#unfinished,
      broken: this.#broken,
    });
  }
}

const lockName = (takeId: string) => `take-${takeId}`;
