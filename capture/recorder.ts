import type { Ask } from "#core/answers/kinds";
import { DEFAULT_INSET, type Inset, type LayoutEvent } from "#core/layout/layout";
import type { Surface, TakeSource, TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { sharedNow, SourceClock } from "./clock";
import { openScreen } from "./devices";
import { Engine } from "./engine/engine";
import type { Outbox } from "./outbox/outbox";
import type { Sender } from "./outbox/sender";
import type { KeptTake } from "./outbox/store";

/** Never two of these at once, and each is told in words, shape, page title and sound. */
export type Phase = "ready" | "asking" | "counting" | "recording" | "paused" | "saving" | "saved";

export interface Shared {
  /** null when the browser does not tell */
  surface: Surface | null;
  withSound: boolean;
  /** for showing what is being recorded */
  screen: MediaStreamTrack;
}

export interface RecorderState {
  phase: Phase;
  /** 3, 2, 1 while counting in */
  count: number;
  shared: Shared | null;
  inset: Inset;
  take: KeptTake | null;
  /** what was lost while recording went on */
  lost: ("camera" | "microphone")[];
  /** why the last attempt did not become a recording */
  problem: string | null;
}

export interface Choice {
  source: TakeSource;
  title: string;
  audience: "owner" | "anyone";
  /** what is asked of those who watch */
  ask: Omit<Ask, "closed">;
  camera: MediaStreamTrack | null;
  microphone: MediaStreamTrack | null;
}

/** Creates the recording on the server. Rejects with a message for the person. */
export type StartTake = (
  choice: Pick<Choice, "source" | "title" | "audience" | "ask">,
) => Promise<Omit<KeptTake, "startedAt" | "expected" | "layout">>;

const COUNT_FROM = 3;
const SOURCE_TIMEOUT_MS = 10_000;
const NOTE_MS = 10_000;

/** One recorder: the phases, and everything that happens between them. */
export class Recorder {
  #state: RecorderState = {
    phase: "ready",
    count: 0,
    shared: null,
    inset: DEFAULT_INSET,
    take: null,
    lost: [],
    problem: null,
  };
  #listeners = new Set<() => void>();
  #clock = new SourceClock();
  #engine: Engine | null = null;
  #sender: Sender | null = null;
  #keeping: Promise<void>[] = [];
  #layout: LayoutEvent[] = [];
  #screen: MediaStreamTrack[] = [];
  #cancel: (() => void) | null = null;
  #noteTimer: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly outbox: Outbox,
    private readonly startTake: StartTake,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): RecorderState => this.#state;

  /** Source time of this moment, without pauses. */
  elapsed(): Micros {
    return this.#clock.at(sharedNow());
  }

  /** Asks for the surface, counts in, and records. Must be called from a press: browsers ask for that. */
  async record(choice: Choice): Promise<void> {
    if (this.#state.phase !== "ready") return;
    this.#set({ phase: "asking", problem: null, lost: [], take: null });
    try {
      const wantsScreen = choice.source === "screen" || choice.source === "screen-camera";
      const shared = wantsScreen ? await openScreen() : null;
      this.#screen = shared ? [shared.screen, ...(shared.sound ? [shared.sound] : [])] : [];
      this.#set({
        shared: shared && {
          surface: surfaceOf(shared.screen),
          withSound: shared.sound !== null,
          screen: shared.screen,
        },
      });
      const cancelled = new Promise<"cancelled">((cancel) => (this.#cancel = () => cancel("cancelled")));
      // The surface was given and taken back before anything began.
      shared?.screen.addEventListener("ended", () =>
        this.#state.phase === "counting" ? this.cancel() : void this.stop(),
      );

      const starting = this.#prepare(choice, shared);
      starting.catch(() => this.#cancel?.());
      if ((await Promise.race([cancelled, this.#countIn(cancelled)])) === "cancelled") {
        await starting.catch((error: unknown) => this.#set({ problem: (error as Error).message }));
        return await this.#abandon();
      }
      await starting;
      this.#begin(choice);
    } catch (error) {
      this.#set({ problem: error instanceof Error ? error.message : String(error) });
      await this.#abandon();
    }
  }

  /** Stops counting in; nothing is kept. */
  cancel(): void {
    if (this.#state.phase === "counting") this.#cancel?.();
  }

  pause(): void {
    if (this.#state.phase !== "recording") return;
    this.#clock.pause(this.#engine!.pause());
    this.#set({ phase: "paused" });
    void this.#note();
  }

  resume(): void {
    if (this.#state.phase !== "paused") return;
    this.#clock.resume(this.#engine!.resume());
    this.#set({ phase: "recording" });
    void this.#note();
  }

  /** Moves, sizes, hides or shows the camera picture: an event in source time. */
  arrange(change: Partial<Inset>): void {
    const inset = { ...this.#state.inset, ...change };
    this.#set({ inset });
    if (this.#state.phase !== "recording" && this.#state.phase !== "paused") return;
    this.#layout.push({ at: this.elapsed(), ...inset });
    void this.#note();
  }

  async stop(): Promise<void> {
    if (this.#state.phase !== "recording" && this.#state.phase !== "paused") return;
    this.#clock.pause(sharedNow());
    this.#set({ phase: "saving" });
    clearInterval(this.#noteTimer);
    try {
      const { expected } = await this.#engine!.stop();
      this.#endScreen();
      // Every part is on this computer before the end is told.
      await Promise.all(this.#keeping);
      const finished = this.#sender!.finish(expected, this.#layout);
      this.#set({ phase: "saved" });
      await finished;
    } catch (error) {
      this.#set({ problem: `${(error as Error).message} What was recorded up to then is kept.` });
      await this.#salvage();
    }
  }

  /** Throws the take away. The page asks first. */
  async discard(): Promise<void> {
    if (this.#state.phase !== "recording" && this.#state.phase !== "paused") return;
    await this.#abandon();
  }

  /** Makes ready for the next recording. */
  again(): void {
    if (this.#state.phase !== "saved") return;
    this.#reset();
    this.#set({ phase: "ready" });
  }

  async #prepare(
    choice: Choice,
    shared: { screen: MediaStreamTrack; sound: MediaStreamTrack | null } | null,
  ): Promise<void> {
    const usesCamera = choice.source === "screen-camera" || choice.source === "camera";
    this.#engine = new Engine(
      {
        ...(shared && { screen: shared.screen }),
        ...(shared?.sound && { sound: shared.sound }),
        ...(usesCamera && choice.camera && { camera: choice.camera }),
        ...(choice.microphone && { microphone: choice.microphone }),
      },
      (kind, number, bytes) => this.#keep(kind, number, bytes),
      () => void this.stop(),
    );
    // The sources first: a recording is made on the server only when there is something to record.
    await withTimeout(this.#engine.ready, SOURCE_TIMEOUT_MS);
    const take = await this.startTake(choice);
    const kept: KeptTake = { ...take, startedAt: Date.now(), expected: null, layout: [] };
    this.#sender = await this.outbox.open(kept);
    this.#set({ take: kept });
  }

  #keep(kind: TrackKind, number: number, bytes: ArrayBuffer): void {
    const kept = this.#sender!.add(kind, number, bytes);
    this.#keeping.push(kept);
    kept.catch(() => {
      this.#set({
        problem: "This computer has no room left for the recording. It was stopped; what was recorded is kept.",
      });
      void this.stop();
    });
  }

  async #countIn(cancelled: Promise<unknown>): Promise<void> {
    let on = true;
    void cancelled.then(() => (on = false));
    for (let count = COUNT_FROM; count > 0 && on; count--) {
      this.#set({ phase: "counting", count });
      await Promise.race([new Promise((next) => setTimeout(next, 1000)), cancelled]);
    }
  }

  #begin({ camera, microphone }: Choice): void {
    this.#cancel = null;
    this.#layout = [{ at: 0, ...this.#state.inset }];
    this.#clock.start(this.#engine!.start());
    this.#set({ phase: "recording", count: 0 });
    this.#noteTimer = setInterval(() => void this.#note(), NOTE_MS);
    void this.#note();
    const watch = (track: MediaStreamTrack | null, kind: "camera" | "microphone") =>
      track?.addEventListener("ended", () => {
        if (this.#state.phase !== "recording" && this.#state.phase !== "paused") return;
        this.#set({ lost: [...this.#state.lost, kind] });
        if (kind === "camera") this.arrange({ shown: false });
      });
    watch(camera, "camera");
    watch(microphone, "microphone");
  }

  async #note(): Promise<void> {
    const { phase } = this.#state;
    if (phase === "recording" || phase === "paused") await this.#sender?.note(phase === "paused", this.#layout);
  }

  /** The engine broke: closes the take with what has been kept. */
  async #salvage(): Promise<void> {
    this.#endScreen();
    await Promise.allSettled(this.#keeping);
    const takeId = this.#state.take?.takeId;
    if (takeId) await this.outbox.salvage(takeId);
    this.#set({ phase: "saved" });
  }

  async #abandon(): Promise<void> {
    clearInterval(this.#noteTimer);
    this.#engine?.abort();
    this.#endScreen();
    const takeId = this.#state.take?.takeId;
    await Promise.allSettled(this.#keeping);
    if (takeId) await this.outbox.throwAway(takeId);
    this.#reset();
    this.#set({ phase: "ready", take: null });
  }

  #endScreen(): void {
    for (const track of this.#screen) track.stop();
    this.#screen = [];
  }

  #reset(): void {
    this.#engine = null;
    this.#sender = null;
    this.#keeping = [];
    this.#layout = [];
    this.#cancel = null;
    this.#clock = new SourceClock();
    this.#set({ shared: null, count: 0, inset: { ...this.#state.inset, shown: true } });
  }

  #set(change: Partial<RecorderState>): void {
    this.#state = { ...this.#state, ...change };
    this.#listeners.forEach((listener) => listener());
  }
}

function surfaceOf(track: MediaStreamTrack): Surface | null {
  const { displaySurface } = track.getSettings();
  return displaySurface === "monitor" || displaySurface === "window" || displaySurface === "browser"
    ? displaySurface
    : null;
}

function withTimeout<T>(work: Promise<T>, ms: number): Promise<T> {
  const late = new Promise<never>((_, fail) =>
    setTimeout(
      () =>
        fail(
          new Error(
            "A picture or sound did not start within 10 seconds. Check the camera and the chosen screen, then try again.",
          ),
        ),
      ms,
    ),
  );
  return Promise.race([work, late]);
}
