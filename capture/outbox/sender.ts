import { ENTRIES_AT_ONCE, type Entry } from "#core/layout/entry";
import { isPicture, type TrackKind } from "#core/media/tracks";
import type { About } from "#core/title/about";
import { ask, heard, json, type Fetch, type Held, type Hold } from "./answer";
import { register } from "./register";
import { ingestOf, type KeptPart, type KeptTake, type PartName, type PartStore } from "./store";

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
  #telling: Promise<void> | null = null;
  #entriesFlying: Promise<boolean> | null = null;
  #registering: Promise<Held | null> | null = null;
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
    for (const part of kept) if (!part.sent) this.#enqueue(part);
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

  /**
   * What it is about, where the server has not heard of the take yet.
   * @returns whether it was taken; where not, the recording is there to be told
   */
  async describe({ title, ...about }: About & { title: string }): Promise<boolean> {
    await this.#registering;
    if (this.take.registered || this.take.start.recording) return false;
    this.take.start = { ...this.take.start, ...about, title };
    this.take.title = title;
    await this.#tryToKeep();
    this.#set({});
    return true;
  }

  /** Says that the recorder lives, and whether it is paused. Not kept. */
  async note(paused: boolean): Promise<void> {
    if (!this.take.registered) return void (await this.#tellEntries());
    await this.options.fetch(`${ingestOf(this.take)}/note`, json("PUT", { paused })).then(heard, () => undefined);
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
    // The server may be hearing of the take at this moment: it has to before it can hear that there is none.
    await this.#registering;
    const done = await this.#tellDiscarded();
    return { told: done ? Promise.resolve() : this.#untilDone(() => this.#tellDiscarded(), true) };
  }

  /** Tries again now. */
  wake(): void {
    this.#paused = false;
    this.#pump();
  }

  #enqueue(part: PartName): void {
    if (this.#stopped || this.#isBeyond(part)) return;
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
    const why = bytesToo ? await this.#put(bytesToo) : null;
    if (why?.never) return this.#endBefore(part);
    if (why) {
      this.#set(why);
      // Tried again from the disk: it may take long, and there may be many.
      if (held?.kept) this.#held.delete(nameOf(part));
      return this.#later(part);
    }
    this.#held.delete(nameOf(part));
    if (bytesToo) free(bytesToo.bytes);
    // What stays behind by a storage error is known to the server already; sending it again does no harm.
    // What plays a take that is not all sent needs its init segments; one that stays needs all.
    const stays = this.take.stays || part.number === 0;
    await (stays ? this.store.markSent(part) : this.store.remove(part)).catch(() => undefined);
    if (this.#stopped) return;
    this.#set({ parts: this.state.parts - 1, bytes: this.state.bytes - part.size, hold: null, message: null });
    if (this.take.expected && this.state.parts === 0) await this.#tellEnd();
  }

  /** @returns why the server has not taken it; null when it has */
  async #put({ kind, number, digest, bytes }: KeptPart): Promise<Held | null> {
    const name = number === 0 ? "init" : String(number);
    const headers = {
      "content-digest": `sha-256=:${digest}:`,
      "content-type": isPicture(kind) ? "video/mp4" : "audio/mp4",
    };
    const answer = await this.#try(`/${kind}/${name}`, { method: "PUT", body: bytes, headers });
    if (!(answer instanceof Response)) return answer;
    await heard(answer);
    return null;
  }

  /** A part is refused for good: its track ends before it, and what was not taken stays on this computer. */
  async #endBefore(part: PartName): Promise<void> {
    if (this.#stopped) return;
    const { kind, number } = part;
    const { endsBefore = {} } = this.take;
    this.take.endsBefore = { ...endsBefore, [kind]: Math.min(number, endsBefore[kind] ?? Infinity) };
    this.take.stays = true;
    await this.#tryToKeep();
    const gone = [part, ...this.#queue.filter(this.#isBeyond)];
    this.#queue = this.#queue.filter((other) => !this.#isBeyond(other));
    for (const one of gone) this.#held.delete(nameOf(one));
    const { parts, bytes } = this.state;
    this.#set({ parts: parts - gone.length, bytes: bytes - gone.reduce((sum, { size }) => sum + size, 0) });
    if (this.take.expected && this.state.parts === 0) await this.#tellEnd();
  }

  #isBeyond = ({ kind, number }: Pick<PartName, "kind" | "number">): boolean =>
    number >= (this.take.endsBefore?.[kind] ?? Infinity);

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

  /** @returns the answer, or why there is none that counts: the server may not know of the take yet */
  async #try(path: string, init: RequestInit): Promise<Response | Held> {
    const unknown = this.take.registered ? null : await this.#register();
    if (unknown) return unknown;
    const answer = await ask(this.options.fetch, ingestOf(this.take) + path, init);
    if (answer instanceof Response) this.#failures = 0;
    return answer;
  }

  /** Tells the server of the take. Once at a time. @returns why not; null when it knows */
  #register(): Promise<Held | null> {
    this.#registering ??= this.#tellOfTake().finally(() => (this.#registering = null));
    return this.#registering;
  }

  async #tellOfTake(): Promise<Held | null> {
    const got = await register(this.options.fetch, this.take.start);
    if ("hold" in got) return got;
    Object.assign(this.take, { registered: got, title: got.title });
    if (!this.#stopped) await this.#tryToKeep();
    this.#set({});
    return null;
  }

  #rest(): void {
    if (this.#paused) return;
    this.#paused = true;
    this.#failures++;
    void this.options.wait(backOff(this.#failures)).then(() => this.wake());
  }

  /** Tells the end until the server has heard it. Once at a time: the last part and the recorder may both ask. */
  #tellEnd(): Promise<void> {
    this.#telling ??= this.#untilDone(() => this.#tellFinish()).finally(() => (this.#telling = null));
    return this.#telling;
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
    const { endsBefore = {} } = this.take;
    // An init segment is number 0.
    const expected = atMost(this.take.expected ?? {}, (kind) => Math.max(0, (endsBefore[kind] ?? Infinity) - 1));
    const answer = await this.#attempt("/finish", json("PUT", { expected }));
    if (!answer) return false;
    const { state } = (await answer.json()) as { state: string };
    if (state === "complete") {
      this.#stopped = true;
      // A row that stays behind by a storage error is told again on the next visit, and known then.
      this.take.sent = true;
      await (this.take.stays ? this.#tryToKeep() : this.store.removeTake(this.take.takeId).catch(() => undefined));
      this.#set({ complete: true, hold: null, message: null });
      return true;
    }
    // Parts are still on their way: the last of them tells the end again.
    if (this.state.parts > 0) return true;
    // Everything was acknowledged and something is missing all the same: the take ends where its gap begins.
    const there = await this.#stored();
    if (there) this.take.expected = atMost(expected, (kind) => there[kind] ?? 0);
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
    const answer = await this.options.fetch(ingestOf(this.take), { method: "DELETE" }).catch(() => null);
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
 * Gives a buffer's memory back now. Half a megabyte every second would else wait for the garbage collector, which sees
 * only a small object.
 */
function free(bytes: ArrayBuffer): void {
  // ECMAScript 2024; where it is missing, the collector comes in the end.
  (bytes as Partial<Pick<ArrayBuffer, "transfer">>).transfer?.(0);
}

const nameOf = ({ kind, number }: Pick<PartName, "kind" | "number">) => `${kind} ${number}`;

/** How many there are from 1 on without a gap. */
export function withoutGap(numbers: Iterable<number>): number {
  const have = new Set(numbers);
  let last = 0;
  while (have.has(last + 1)) last++;
  return last;
}

/** What a take is to have of each track, and of each no more than that. */
const atMost = (
  expected: Partial<Record<TrackKind, number>>,
  most: (kind: TrackKind) => number,
): Partial<Record<TrackKind, number>> =>
  Object.fromEntries(Object.entries(expected).map(([kind, count]) => [kind, Math.min(count, most(kind as TrackKind))]));

/** SHA-256 as base64, for a Content-Digest field (RFC 9530). */
export async function digestOf(bytes: ArrayBuffer): Promise<string> {
  return btoa(String.fromCharCode(...new Uint8Array(await crypto.subtle.digest("SHA-256", bytes))));
}
