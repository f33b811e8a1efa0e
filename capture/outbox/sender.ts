import { ENTRIES_AT_ONCE, type Entry } from "#core/layout/entry";
import { isPicture, type TrackKind } from "#core/media/tracks";
import type { KeptPart, KeptTake, PartName, PartStore } from "./store";

/** Why nothing moves at the moment. `storage`: this browser's own store does not answer. */
export type Hold = "offline" | "signed-out" | "refused" | "server" | "storage";

export interface SendState {
  parts: number;
  bytes: number;
  /** null while all goes well */
  hold: Hold | null;
  /** what the server said, when it refused */
  message: string | null;
  /** the server has everything and has closed the take */
  complete: boolean;
}

export type Fetch = (url: string, init: RequestInit) => Promise<Response>;
export interface SenderOptions {
  fetch: Fetch;
  /** waits so many ms, or less when something wakes it (the network is back) */
  wait: (ms: number) => Promise<void>;
  onChange: () => void;
}

const AT_ONCE = 3;
/** Parts that are held in memory though they are on the disk: those that are about to be sent. */
const HELD_MOST = 8;
/** 1, 2, 4, 8, 15, 15 … seconds */
export const backOff = (failures: number) => Math.min(15_000, 1000 * 2 ** Math.max(0, failures - 1));

/**
 * Sends the parts of one take in order, a few at once, and forgets each only when the server has acknowledged it.
 * Goes on by itself after errors, for as long as it takes.
 */
export class Sender {
  #queue: PartName[] = [];
  /** Parts that are sent from memory: the newest, and those that this computer had no room for. */
  #held = new Map<string, { part: KeptPart; kept: boolean }>();
  #flying = 0;
  #initFlying = false;
  #failures = 0;
  #paused = false;
  #stopped = false;
  #telling = false;
  #entriesFlying: Promise<boolean> | null = null;
  state: SendState = { parts: 0, bytes: 0, hold: null, message: null, complete: false };

  constructor(
    readonly take: KeptTake,
    private readonly store: PartStore,
    private readonly options: SenderOptions,
  ) {}

  /** Takes up what an earlier visit has left. */
  async restore(): Promise<void> {
    const kept = await this.store.list(this.take.takeId);
    // Init segments first: the server wants them before the others.
    kept.sort((a, b) => a.number - b.number);
    for (const part of kept) this.#enqueue(part);
    this.#pump();
  }

  /**
   * Keeps a part on this computer, then sends it. Resolves when it is kept.
   * @throws when there is no room for it; it is sent all the same, for as long as the tab lives
   */
  async add(kind: TrackKind, number: number, bytes: ArrayBuffer): Promise<void> {
    const { takeId } = this.take;
    const part: KeptPart = { takeId, kind, number, digest: await digestOf(bytes), bytes };
    let kept = false;
    try {
      await this.store.put(part);
      kept = true;
    } finally {
      if (!kept || this.#held.size < HELD_MOST) this.#held.set(nameOf(part), { part, kept });
      this.#enqueue({ takeId, kind, number, size: bytes.byteLength });
      this.#pump();
    }
  }

  /** The recorder has stopped. Kept as well, so that the end is not lost either. */
  async finish(expected: Partial<Record<TrackKind, number>>): Promise<void> {
    this.take.expected = expected;
    // A full disk must not keep the end from the server.
    await this.#tryToKeep();
    await this.#tellEnd();
  }

  /** Tells something that happened in the take. Kept on this computer until the server has heard it. */
  async write(entry: Entry): Promise<void> {
    this.take.entries = [...this.take.entries.filter((e) => e.id !== entry.id), entry];
    await this.#tryToKeep();
    await this.#tellEntries();
  }

  /** Says that the recorder lives, and whether it is paused. Not kept. */
  async note(paused: boolean): Promise<void> {
    await this.options.fetch(`${this.take.ingest}/note`, json("PUT", { paused })).then(heard, () => undefined);
    await this.#tellEntries();
  }

  /**
   * Throws the take away: its parts here at once, the rest when the server hears of it. Until then this computer
   * remembers that it was thrown away.
   * @returns after the first try; `told` settles when the server has heard
   */
  async discard(): Promise<{ told: Promise<void> }> {
    this.#stopped = true;
    this.#queue = [];
    this.#held.clear();
    this.#set({ parts: 0, bytes: 0, hold: null, message: null });
    this.take.discarded = true;
    await this.store.removeTake(this.take.takeId).catch(() => undefined);
    await this.#tryToKeep();
    const heard = await this.#tellDiscarded();
    return { told: heard ? Promise.resolve() : this.#untilDone(() => this.#tellDiscarded(), true) };
  }

  /** Tries again now. */
  wake(): void {
    this.#paused = false;
    this.#pump();
  }

  #enqueue(part: PartName): void {
    if (this.#stopped) return;
    this.#queue.push(part);
    this.#set({ parts: this.state.parts + 1, bytes: this.state.bytes + part.size });
  }

  #pump(): void {
    while (!this.#paused && !this.#stopped && !this.#initFlying && this.#flying < AT_ONCE && this.#queue.length > 0) {
      const part = this.#queue.shift()!;
      // An init segment is waited for: the server wants it before what needs it.
      this.#initFlying = part.number === 0;
      this.#flying++;
      void this.#send(part).finally(() => {
        this.#flying--;
        if (part.number === 0) this.#initFlying = false;
        this.#pump();
      });
    }
  }

  async #send(part: PartName): Promise<void> {
    const held = this.#held.get(nameOf(part));
    let bytesToo: KeptPart | undefined;
    try {
      bytesToo = held?.part ?? (await this.store.get(part));
    } catch {
      this.#set({ hold: "storage", message: null });
      return this.#later(part);
    }
    if (this.#stopped) return;
    // Not here any more: another tab has sent it.
    if (bytesToo && !(await this.#put(bytesToo))) {
      // Tried again from the disk: it may take long, and there may be many.
      if (held?.kept) this.#held.delete(nameOf(part));
      return this.#later(part);
    }
    this.#held.delete(nameOf(part));
    if (bytesToo) free(bytesToo.bytes);
    // What stays behind by a storage error is known to the server already; sending it again does no harm.
    await this.store.remove(part).catch(() => undefined);
    if (this.#stopped) return;
    this.#set({ parts: this.state.parts - 1, bytes: this.state.bytes - part.size, hold: null, message: null });
    if (this.take.expected && this.state.parts === 0) await this.#tellEnd();
  }

  async #put({ kind, number, digest, bytes }: KeptPart): Promise<boolean> {
    const name = number === 0 ? "init" : String(number);
    const headers = {
      "content-digest": `sha-256=:${digest}:`,
      "content-type": isPicture(kind) ? "video/mp4" : "audio/mp4",
    };
    const answer = await this.#attempt(`/${kind}/${name}`, { method: "PUT", body: bytes, headers });
    if (answer) await heard(answer);
    return answer !== null;
  }

  #later(part: PartName): void {
    if (this.#stopped) return;
    this.#queue.unshift(part);
    this.#queue.sort((a, b) => a.number - b.number);
    this.#rest();
  }

  /** One request. @returns the answer, or null when it has to be tried again later: then the state says why */
  async #attempt(path: string, init: RequestInit): Promise<Response | null> {
    const tried = await this.#try(path, init);
    if (tried instanceof Response) return tried;
    this.#set(tried);
    return null;
  }

  /** @returns the answer, or why there is none that counts */
  async #try(path: string, init: RequestInit): Promise<Response | Pick<SendState, "hold" | "message">> {
    let answer: Response;
    try {
      answer = await this.options.fetch(`${this.take.ingest}${path}`, init);
    } catch {
      return { hold: "offline", message: null };
    }
    if (answer.ok) {
      this.#failures = 0;
      return answer;
    }
    const said = (await answer.json().catch(() => ({}))) as { message?: string; error?: string };
    return { hold: holdOf(answer.status, said.error), message: said.message ?? null };
  }

  #rest(): void {
    if (this.#paused) return;
    this.#paused = true;
    this.#failures++;
    void this.options.wait(backOff(this.#failures)).then(() => this.wake());
  }

  /** Tells the end until the server has heard it. Once at a time: the last part and the recorder may both ask. */
  async #tellEnd(): Promise<void> {
    if (this.#telling) return;
    this.#telling = true;
    try {
      await this.#untilDone(() => this.#tellFinish());
    } finally {
      this.#telling = false;
    }
  }

  /** @returns whether the server has heard all of it; once at a time, and what comes in meanwhile goes along */
  #tellEntries(): Promise<boolean> {
    this.#entriesFlying ??= this.#sendEntries().finally(() => (this.#entriesFlying = null));
    return this.#entriesFlying;
  }

  async #sendEntries(): Promise<boolean> {
    while (this.take.entries.length > 0 && !this.#stopped) {
      const entries = this.take.entries.slice(0, ENTRIES_AT_ONCE);
      const tried = await this.#try("/entries", json("PUT", { entries }));
      if (tried instanceof Response) await heard(tried);
      else if (tried.hold !== "refused") {
        this.#set(tried);
        return false;
      }
      // What is refused for good must not keep the end of the take from the server.
      this.take.entries = this.take.entries.filter((e) => !entries.includes(e));
      if (!this.#stopped) await this.#tryToKeep();
    }
    return true;
  }

  async #tellFinish(): Promise<boolean> {
    if (!(await this.#tellEntries())) return false;
    const { expected } = this.take;
    const answer = await this.#attempt("/finish", json("PUT", { expected }));
    if (!answer) return false;
    const { state } = (await answer.json()) as { state: string };
    if (state === "complete") {
      this.#stopped = true;
      // A row that stays behind by a storage error is told again on the next visit, and known then.
      await this.store.removeTake(this.take.takeId).catch(() => undefined);
      this.#set({ complete: true, hold: null, message: null });
      return true;
    }
    // Parts are still on their way: the last of them tells the end again.
    if (this.state.parts > 0) return true;
    // Everything was acknowledged and something is missing all the same: the take ends where its gap begins.
    const there = await this.#stored();
    if (there) this.take.expected = shortened(expected ?? {}, there);
    return false;
  }

  /** How many segments without a gap the server has of each track; null when it does not say. */
  async #stored(): Promise<Partial<Record<TrackKind, number>> | null> {
    const answer = await this.#attempt("", { method: "GET" });
    if (!answer) return null;
    const { stored } = (await answer.json()) as { stored: Partial<Record<TrackKind, number[]>> };
    return Object.fromEntries(Object.entries(stored).map(([kind, numbers]) => [kind, withoutGap(numbers)]));
  }

  async #tellDiscarded(): Promise<boolean> {
    const answer = await this.options.fetch(this.take.ingest, { method: "DELETE" }).catch(() => null);
    if (answer) await heard(answer);
    // A take that is not there, or is somebody else's by now, needs no more words.
    if (!answer || !(answer.ok || answer.status === 404)) return false;
    await this.store.removeTake(this.take.takeId).catch(() => undefined);
    return true;
  }

  async #untilDone(step: () => Promise<boolean>, whenStopped = false): Promise<void> {
    for (let failures = 1; (whenStopped || !this.#stopped) && !(await step()); failures++) {
      await this.options.wait(backOff(failures));
    }
  }

  async #tryToKeep(): Promise<void> {
    await this.store.addTake(this.take).catch(() => undefined);
  }

  #set(change: Partial<SendState>): void {
    this.state = { ...this.state, ...change };
    this.options.onChange();
  }
}

/**
 * Reads an answer to its end. Until then a browser keeps the request with its body: with half a megabyte every second
 * nobody would notice before the memory is full.
 */
const heard = (answer: Response) =>
  // Its status has told what counts; words that are cut off are no matter.
  answer.text().catch(() => "");

/**
 * Gives a buffer's memory back now. Half a megabyte every second would else wait for the garbage collector, which sees
 * only a small object.
 */
function free(bytes: ArrayBuffer): void {
  // ECMAScript 2024; where it is missing, the collector comes in the end.
  (bytes as Partial<Pick<ArrayBuffer, "transfer">>).transfer?.(0);
}

const nameOf = ({ kind, number }: Pick<PartName, "kind" | "number">) => `${kind} ${number}`;

/** What an answer that is no success means. Bytes that were damaged on the way are simply sent again. */
function holdOf(status: number, error: string | undefined): Hold {
  if (status === 401) return "signed-out";
  const passing = status >= 500 || status === 408 || status === 429 || error === "wrong-digest" || error === "cut-off";
  return passing ? "server" : "refused";
}

/** How many there are from 1 on without a gap. */
export function withoutGap(numbers: Iterable<number>): number {
  const have = new Set(numbers);
  let last = 0;
  while (have.has(last + 1)) last++;
  return last;
}

const shortened = (
  expected: Partial<Record<TrackKind, number>>,
  there: Partial<Record<TrackKind, number>>,
): Partial<Record<TrackKind, number>> =>
  Object.fromEntries(
    Object.entries(expected).map(([kind, count]) => [kind, Math.min(count, there[kind as TrackKind] ?? 0)]),
  );

const json = (method: string, value: unknown): RequestInit => ({
  method,
  body: JSON.stringify(value),
  headers: { "content-type": "application/json" },
});

/** SHA-256 as base64, for a Content-Digest field (RFC 9530). */
export async function digestOf(bytes: ArrayBuffer): Promise<string> {
  return btoa(String.fromCharCode(...new Uint8Array(await crypto.subtle.digest("SHA-256", bytes))));
}
