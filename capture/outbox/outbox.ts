import { Watchable } from "#core/state/watchable";
import { isPicture, type TrackKind } from "#core/media/tracks";
import type { About } from "#core/title/about";
import type { Fetch } from "./answer";
import { patientFetch } from "./patient-fetch";
import { backOff, Sender, withoutGap, type SendState } from "./sender";
import { BrowserStore, ingestOf, type KeptTake, type PartStore } from "./store";

/** A take on this computer that nobody is sending. */
export interface Resting {
  take: KeptTake;
  /** parts that were not sent, and the bytes of all that are here */
  parts: number;
  bytes: number;
}

export interface OutboxState {
  sending: { take: KeptTake; state: SendState }[];
  /** what an earlier visit left and that has not been sent */
  unfinished: Resting[];
  /** all of it was sent, and it is here as well */
  stayed: Resting[];
  /** how many takes of other people are here: they are sent when those are signed in */
  others: number;
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
  #unfinished: Resting[] = [];
  /** Counts looks, so that one that took longer than the next says nothing. */
  #looks = 0;
  #stayed: Resting[] = [];
  #others = 0;
  /** who looks at this computer's takes; undefined until that is known */
  #person: string | null | undefined;
  #broken = false;
  #wakers = new Set<() => void>();
  #release = new Map<string, () => void>();
  readonly #store: PartStore;
  readonly #fetch: Fetch;
  readonly #locks: Pick<LockManager, "request" | "query">;

  constructor(parts: OutboxParts = {}) {
    super({ sending: [], unfinished: [], stayed: [], others: 0, broken: false });
    this.#store = parts.store ?? new BrowserStore();
    this.#fetch = parts.fetch ?? patientFetch;
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

  /** Whose takes are shown, and sent by themselves where they have their end. @param person null for nobody's */
  async showFor(person: string | null): Promise<void> {
    if (this.#person === person) return;
    this.#person = person;
    await this.look();
  }

  /** Looks for takes that are here. */
  async look(): Promise<void> {
    const look = ++this.#looks;
    const found: Resting[] = [];
    let others = 0;
    try {
      for (const take of await this.#store.takes()) {
        if (this.#senders.has(take.takeId) || !(await this.#isFree(take.takeId))) continue;
        if (take.start.by !== undefined && take.start.by !== this.#person) {
          others++;
          continue;
        }
        if (take.discarded) {
          // Thrown away while the server could not be reached.
          void this.throwAway(take);
          continue;
        }
        const parts = await this.#store.list(take.takeId);
        found.push({
          take,
          parts: parts.filter((p) => !p.sent).length,
          bytes: parts.reduce((sum, p) => sum + p.size, 0),
        });
      }
      this.#broken = false;
    } catch {
      this.#broken = true;
    }
    // A later look knows better: of what this one saw, some may be sent by now.
    if (look !== this.#looks) return;
    this.#unfinished = found.filter(({ take }) => !take.sent);
    this.#stayed = found.filter(({ take }) => take.sent);
    this.#others = others;
    this.#changed();
    // What was stopped by its presenter waits for nothing but the server.
    if (this.#person) for (const { take } of found) if (take.expected && !take.sent) void this.sendRest(take.takeId);
  }

  /**
   * What of a take can be played from here: of each track its init segment and a run of segments, all from the same
   * number on, so that they begin together. What was sent and is gone from here is missing.
   */
  async playable(takeId: string): Promise<Map<TrackKind, Blob>> {
    const numbers = new Map<TrackKind, number[]>();
    for (const { kind, number } of await this.#store.list(takeId))
      numbers.set(kind, [...(numbers.get(kind) ?? []), number]);
    const tracks = [...numbers].filter(([, here]) => here.includes(0) && here.length > 1);
    const first = Math.max(0, ...tracks.map(([, here]) => Math.min(...here.filter((n) => n > 0))));
    const found = new Map<TrackKind, Blob>();
    for (const [kind, here] of tracks) {
      const there = new Set(here);
      const run = [0];
      for (let n = first; there.has(n); n++) run.push(n);
      if (run.length < 2) continue;
      const parts: Blob[] = [];
      for (const number of run) {
        const part = await this.#store.get({ takeId, kind, number });
        // A blob of its own: an hour of it lies with the browser, not in the page's memory.
        if (part) parts.push(new Blob([part.bytes]));
      }
      found.set(kind, new Blob(parts, { type: isPicture(kind) ? "video/mp4" : "audio/mp4" }));
    }
    return found;
  }

  /** What a take of this tab is about. @returns whether it was taken: the server had not heard of the take yet */
  async describe(takeId: string, about: About & { title: string }): Promise<boolean> {
    return (await this.#senders.get(takeId)?.describe(about)) ?? false;
  }

  /** Nothing of a take that was sent stays on this computer. */
  async letGo(takeId: string): Promise<void> {
    await this.#store.removeTake(takeId).catch(() => undefined);
    await this.look();
  }

  /** Sends what an earlier visit left, and closes the take with what there is. */
  async sendRest(takeId: string): Promise<void> {
    const left = this.#unfinished.find((u) => u.take.takeId === takeId);
    if (this.#senders.has(takeId)) return;
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
  async #whatIsThere(take: KeptTake): Promise<Partial<Record<TrackKind, number>>> {
    const { takeId } = take;
    const have = new Map<TrackKind, number[]>();
    const add = (kind: TrackKind, number: number) => have.set(kind, [...(have.get(kind) ?? []), number]);
    for (const { kind, number } of await this.#store.list(takeId)) add(kind, number);
    // A take that the server has not heard of is all here.
    for (let failures = 1; take.registered; failures++) {
      const answer = await this.#fetch(ingestOf(take), {}).catch(() => null);
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
        if (sender.state.complete) {
          this.#forget(take.takeId);
          if (take.stays) void this.look();
        }
        this.#changed();
      },
    });
    this.#senders.set(take.takeId, sender);
    return sender;
  }

  #forget(takeId: string): void {
    this.#senders.delete(takeId);
    this.#unfinished = this.#unfinished.filter((u) => u.take.takeId !== takeId);
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
      // Two looks may cross the beginning of what is sent by itself.
      unfinished: this.#unfinished.filter(({ take }) => !this.#senders.has(take.takeId)),
      stayed: this.#stayed,
      others: this.#others,
      broken: this.#broken,
    });
  }
}

const lockName = (takeId: string) => `take-${takeId}`;
