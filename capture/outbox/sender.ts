import type { LayoutEvent } from "#core/layout/layout";
import { isPicture, type TrackKind } from "#core/media/tracks";
import type { KeptTake, PartName, PartStore } from "./store";

/** Why nothing moves at the moment. */
export type Hold = "offline" | "signed-out" | "refused" | "server";

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
/** 1, 2, 4, 8, 15, 15 … seconds */
export const backOff = (failures: number) => Math.min(15_000, 1000 * 2 ** Math.max(0, failures - 1));

/**
 * Sends the parts of one take in order, a few at once, and forgets each only when the server has acknowledged it.
 * Goes on by itself after errors, for as long as it takes.
 */
export class Sender {
  #queue: PartName[] = [];
  #flying = 0;
  #initFlying = false;
  #failures = 0;
  #paused = false;
  #stopped = false;
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

  /** Keeps a part on this computer, then sends it. Resolves when it is kept. */
  async add(kind: TrackKind, number: number, bytes: ArrayBuffer): Promise<void> {
    const digest = await digestOf(bytes);
    await this.store.put({ takeId: this.take.takeId, kind, number, digest, bytes });
    this.#enqueue({ takeId: this.take.takeId, kind, number, size: bytes.byteLength });
    this.#pump();
  }

  /** The recorder has stopped. Kept as well, so that the end is not lost either. */
  async finish(expected: Partial<Record<TrackKind, number>>, layout: LayoutEvent[]): Promise<void> {
    this.take.expected = expected;
    this.take.layout = layout;
    await this.store.addTake(this.take);
    await this.#untilDone(() => this.#tellFinish());
  }

  /** Says that the recorder lives, and what the layout is. Not kept: the end tells it again. */
  async note(paused: boolean, layout: LayoutEvent[]): Promise<void> {
    this.take.layout = layout;
    await this.store.addTake(this.take);
    await this.options.fetch(`${this.take.ingest}/note`, json("PUT", { paused, layout })).catch(() => undefined);
  }

  async discard(): Promise<void> {
    this.#stopped = true;
    this.#queue = [];
    await this.options.fetch(this.take.ingest, { method: "DELETE" }).catch(() => undefined);
    await this.store.removeTake(this.take.takeId);
    this.#set({ parts: 0, bytes: 0, hold: null, message: null });
  }

  /** Tries again now. */
  wake(): void {
    this.#paused = false;
    this.#pump();
  }

  #enqueue(part: PartName): void {
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
    const kept = await this.store.get(part);
    if (!kept || this.#stopped) return;
    const name = part.number === 0 ? "init" : String(part.number);
    const outcome = await this.#attempt(() =>
      this.options.fetch(`${this.take.ingest}/${part.kind}/${name}`, {
        method: "PUT",
        body: kept.bytes,
        headers: {
          "content-digest": `sha-256=:${kept.digest}:`,
          "content-type": isPicture(part.kind) ? "video/mp4" : "audio/mp4",
        },
      }),
    );
    if (outcome === null) {
      this.#queue.unshift(part);
      this.#queue.sort((a, b) => a.number - b.number);
      return this.#rest();
    }
    await this.store.remove(part);
    this.#set({ parts: this.state.parts - 1, bytes: this.state.bytes - part.size, hold: null, message: null });
    if (this.take.expected && this.state.parts === 0) await this.#untilDone(() => this.#tellFinish());
  }

  /** One request. @returns the answer, or null when it has to be tried again later */
  async #attempt(request: () => Promise<Response>): Promise<Response | null> {
    let answer: Response;
    try {
      answer = await request();
    } catch {
      this.#set({ hold: "offline", message: null });
      return null;
    }
    if (answer.ok) {
      this.#failures = 0;
      return answer;
    }
    const said = (await answer.json().catch(() => ({}))) as { message?: string; error?: string };
    // Bytes that were damaged on the way are simply sent again.
    const passing =
      answer.status >= 500 ||
      answer.status === 408 ||
      answer.status === 429 ||
      said.error === "wrong-digest" ||
      said.error === "cut-off";
    this.#set({
      hold: answer.status === 401 ? "signed-out" : passing ? "server" : "refused",
      message: said.message ?? null,
    });
    return null;
  }

  #rest(): void {
    if (this.#paused) return;
    this.#paused = true;
    this.#failures++;
    void this.options.wait(backOff(this.#failures)).then(() => this.wake());
  }

  async #tellFinish(): Promise<boolean> {
    const answer = await this.#attempt(() =>
      this.options.fetch(
        `${this.take.ingest}/finish`,
        json("PUT", { expected: this.take.expected, layout: this.take.layout }),
      ),
    );
    if (!answer) return false;
    const { state } = (await answer.json()) as { state: string };
    if (state === "complete") {
      await this.store.removeTake(this.take.takeId);
      this.#stopped = true;
      this.#set({ complete: true, hold: null, message: null });
    }
    return true;
  }

  async #untilDone(step: () => Promise<boolean>): Promise<void> {
    for (let failures = 1; !this.#stopped && !(await step()); failures++) await this.options.wait(backOff(failures));
  }

  #set(change: Partial<SendState>): void {
    this.state = { ...this.state, ...change };
    this.options.onChange();
  }
}

const json = (method: string, value: unknown): RequestInit => ({
  method,
  body: JSON.stringify(value),
  headers: { "content-type": "application/json" },
});

/** SHA-256 as base64, for a Content-Digest field (RFC 9530). */
export async function digestOf(bytes: ArrayBuffer): Promise<string> {
  return btoa(String.fromCharCode(...new Uint8Array(await crypto.subtle.digest("SHA-256", bytes))));
}
