import { Watchable } from "#core/state/watchable";
import { act, begun, redo, shownBy, undo, type Deed, type History } from "#core/recipe/history";
import type { Shown, TakeStretch } from "#core/recipe/edits";
import { newId } from "../live/id";
import { forgetHere, keepHere, unsavedHere, type Saved, type Send } from "./saving";

/** Where an edit is kept: on the server; on its way; on this computer alone; or nowhere that can be told. */
export type Keeping = "saved" | "saving" | "here" | "other" | "refused";

export interface EditState {
  history: History;
  /** what is shown after all that was done */
  shown: Shown;
  /** the revision that it changes */
  seen: number;
  keeping: Keeping;
  /** why the last deed did nothing, or was not taken */
  problem: string | null;
}

/** An edit rests for so long before it is sent. */
const REST_MS = 800;
const AGAIN_MS = 3_000;

/**
 * An edit that a person works on. Each deed is kept on this computer at once and on the server when the hand rests, so
 * that neither a reload nor a lost connection takes anything away; and what another window has saved is never replaced
 * unseen.
 */
export class EditSession extends Watchable<EditState> {
  #version: number;
  /** this window, for the server to know what it has saved itself */
  readonly #window = newId();
  /** how often it has sent what is to be saved */
  #saves = 0;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #sending: Promise<void> | null = null;
  #ended = false;

  /**
   * @param served what the server has; null where nothing was done yet
   * @param current what is published, and its revision
   */
  constructor(
    private readonly id: string,
    private readonly takes: readonly TakeStretch[],
    served: Saved | null,
    current: Shown & { revision: number },
    private readonly send: Send,
  ) {
    const fresh = { version: served?.version ?? 0, seen: current.revision, history: begun(current) };
    const { version, seen, history } = served ?? fresh;
    super({ history, shown: shownBy(history), seen, keeping: "saved", problem: null });
    this.#version = version;
  }

  /** What this computer kept and the server did not get is gone on with. For a browser: a server has nothing kept. */
  resume(): void {
    this.#ended = false;
    const here = unsavedHere(this.id);
    if (!here) return;
    this.set({ history: here.history, shown: shownBy(here.history), seen: here.seen });
    if (here.version !== this.#version) return this.set({ keeping: "other" });
    this.#later(0);
  }

  act(deed: Deed): void {
    const { history, shown } = this.snapshot();
    try {
      this.#take(act(history, shown, deed, this.takes));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.set({ problem: `This cannot be done: ${error.message}.` });
    }
  }

  undo(): void {
    this.#take(undo(this.snapshot().history));
  }

  redo(): void {
    this.#take(redo(this.snapshot().history));
  }

  /** Begins again from what is published. */
  startFrom({ revision, ...shown }: Shown & { revision: number }): void {
    this.set({ seen: revision });
    this.#take(begun(shown), true);
  }

  /** Goes on over a revision that somebody else published meanwhile: publishing this replaces that. */
  keepOver(revision: number): void {
    this.set({ seen: revision });
    this.#take({ ...this.snapshot().history }, true);
  }

  /** What another window has saved counts. */
  useOther(other: Saved): void {
    this.#version = other.version;
    this.#stop();
    forgetHere(this.id);
    const { history, seen } = other;
    this.set({ history, shown: shownBy(history), seen, keeping: "saved", problem: null });
  }

  /** What this window has counts, over what another one has saved as this version. */
  replaceOther(version: number): void {
    this.#version = version;
    this.set({ problem: null });
    this.#later(0);
  }

  /** Publishes what is shown. @returns whether it was asked for; what went wrong is in the state */
  async publish(): Promise<boolean> {
    const version = await this.saved();
    if (version === null) return false;
    this.set({ problem: null });
    const { seen } = this.snapshot();
    const answer = await this.send({ do: "publish", version: String(version), seen: String(seen) });
    if (answer.is === "taken") return true;
    this.set({ problem: answer.is === "unreached" ? "There is no connection. Nothing was published." : answer.why });
    return false;
  }

  /** It was published as this revision: from here on that is what is changed. */
  published(revision: number): void {
    this.keepOver(revision);
  }

  /** The version that the server has of all that was done; null where it does not have all of it. */
  async saved(): Promise<number | null> {
    await this.flush();
    return this.snapshot().keeping === "saved" ? this.#version : null;
  }

  /** Sends what was not sent yet, and waits for the answer. */
  async flush(): Promise<void> {
    if (this.#timer) this.#sendNow();
    await this.#sending;
    if (this.#version === 0 && this.snapshot().keeping === "saved") {
      // Nothing was done yet: it is saved all the same, so that it can be published.
      this.#sendNow();
      await this.#sending;
    }
  }

  /** The page is left. What the server does not have stays on this computer. */
  end(): void {
    this.#ended = true;
    if (this.#timer) this.#sendNow();
    this.#stop();
    this.forgetListeners();
  }

  #take(history: History, even = false): void {
    if (history.done === this.snapshot().history.done && !even) return;
    this.set({ history, shown: shownBy(history), problem: null });
    const { seen, keeping } = this.snapshot();
    keepHere(this.id, { version: this.#version, seen, history });
    // Another window has something else: first it is decided which of the two counts.
    if (keeping !== "other") this.#later(REST_MS);
  }

  #later(ms: number): void {
    this.#stop();
    this.#timer = setTimeout(() => this.#sendNow(), ms);
    this.set({ keeping: "saving" });
  }

  #stop(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #sendNow(): void {
    this.#stop();
    // One after the other: each names the version that the one before gave it.
    this.#sending = (this.#sending ?? Promise.resolve()).then(() => this.#save());
  }

  async #save(): Promise<void> {
    const { history, seen } = this.snapshot();
    const answer = await this.send({
      do: "save",
      by: this.#window,
      nth: String(++this.#saves),
      version: String(this.#version),
      seen: String(seen),
      history: JSON.stringify(history),
    });
    if (answer.is === "taken") {
      this.#version = answer.version!;
      const still = this.snapshot();
      if (still.history === history && still.seen === seen) {
        forgetHere(this.id);
        this.set({ keeping: "saved" });
      } else keepHere(this.id, { version: this.#version, seen: still.seen, history: still.history });
      return;
    }
    if (answer.is === "unreached") {
      this.set({ keeping: "here" });
      if (!this.#timer && !this.#ended) this.#timer = setTimeout(() => this.#sendNow(), AGAIN_MS);
      return;
    }
    this.set({ keeping: answer.is, problem: answer.is === "refused" ? answer.why : null });
  }
}
