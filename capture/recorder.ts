import { USUAL_ARRANGEMENT, type Arrangement, type Rect, type SceneKind, type Size } from "#core/layout/layout";
import { sceneOf, USUAL_FADE } from "#core/layout/scene";
import type { Quality } from "#core/media/quality";
import { bytesAMinute } from "#core/media/rates";
import { showsCamera, showsScreen, type TakeSource, type TrackKind } from "#core/media/tracks";
import { Watchable } from "#core/state/watchable";
import type { About } from "#core/title/about";
import { formatClock, MILLISECOND, SECOND, type Micros } from "#core/time/micros";
import { Attempt, Cancelled, Left } from "./attempt";
import { sharedNow, SourceClock } from "./clock";
import { DeviceProblem, openScreen } from "./devices";
import {
  Engine,
  type EngineLike,
  type EngineListener,
  type Gains,
  type Sources,
  type TrackSettings,
} from "./engine/engine";
import type { Recalled } from "./engine/messages";
import { KeptParts } from "./kept-parts";
import type { Sender } from "./outbox/sender";
import type { Choice, Device, Health, RecorderParts, RecorderState, SoundKind } from "./recorder-state";
import { REHEARSAL, rehearse, type Rehearsed } from "./rehearsal";
import { ShownSurface, surfaceOf } from "./surface";
import { TakeEntries } from "./take-entries";
import { TakeDevices } from "./take-devices";
import { wakeAt } from "./wake";

const ALIVE_MS = 10_000;
const GONE = "What you had chosen is not shared any more. Choose what to show again.";
const CHANGES = ["scene", "place", "size"] as const;
const NOTHING = { source: "voice" as TakeSource, bytes: 0, most: 0 };

/** One recorder: the phases, and what happens between them. From the press to the first frame it is an attempt. */
export class Recorder extends Watchable<RecorderState> {
  #clock = new SourceClock();
  #attempt: Attempt | null = null;
  #engine: EngineLike | null = null;
  #sender: Sender | null = null;
  #kept = new KeptParts();
  #pace: Health["pace"] = {};
  #made = NOTHING;
  #gains: Gains = { microphone: 1, sound: 1 };
  /** what happens in a take, and what is written and drawn in it */
  readonly entries = new TakeEntries(
    () => (this.isRunning ? this.elapsed() : null),
    (entry) => void this.#sender?.write(entry),
  );
  #surface: ShownSurface;
  /** the browser's own window for another surface is open */
  #changing = false;
  #devices = this.#takeDevices();
  /** what this take began with */
  #choice: Choice | null = null;
  /** the scene that a take begins with */
  #firstScene: SceneKind = "inset";
  /** the scene in which the camera was lost */
  #sceneBefore: SceneKind = "inset";
  /** the shape of the screen under the camera picture; null where none lies over one */
  #frame: Size | null = null;
  #aliveTimer: ReturnType<typeof setInterval> | undefined;
  readonly #makeEngine: NonNullable<RecorderParts["makeEngine"]>;

  constructor(private readonly parts: RecorderParts) {
    super({
      phase: "ready",
      startsAt: null,
      limit: null,
      limited: false,
      count: 0,
      shared: null,
      arrangement: USUAL_ARRANGEMENT,
      take: null,
      lost: [],
      slowed: false,
      suppression: null,
      muted: [],
      made: null,
      problem: null,
    });
    this.#surface = new ShownSurface(parts.openScreen ?? openScreen, () => this.#surfaceEnded());
    this.#makeEngine = parts.makeEngine ?? ((...given) => new Engine(...given));
  }

  /** Source time of this moment, without pauses. */
  elapsed(): Micros {
    return this.#clock.at(sharedNow());
  }

  health(): Health {
    const kept = this.#kept.end(this.snapshot().lost);
    return {
      pace: this.#pace,
      inHand: Math.max(0, this.elapsed() - kept),
      kept: this.#kept.ends,
      keeping: this.#kept.waiting,
    };
  }

  /** Asks for the surface, and no more: it is shown, and nothing is recorded. Must be called from a press. */
  async choose(): Promise<void> {
    if (this.snapshot().phase !== "ready" || this.#changing) return;
    const attempt = new Attempt();
    this.#attempt = attempt;
    this.set({ problem: null });
    const had = this.#surface.shared !== null;
    try {
      await this.#ask(attempt.signal);
      this.#attempt = null;
      this.set({ phase: "ready" });
    } catch (error) {
      // Whoever closes the browser's window keeps what they had.
      const kept = had && error instanceof DeviceProblem && error.reason === "refused";
      await this.#abandon(kept ? new Cancelled() : error);
    }
  }

  /** Nothing is to be shown after all. */
  release(): void {
    if (this.snapshot().phase !== "ready") return;
    this.#endSurface();
  }

  /** Only a part of what is shown, or all of it again. @param area in shares */
  async crop(area: Rect | null): Promise<void> {
    if (this.snapshot().phase !== "ready") return;
    const cropped = this.#surface.crop(area);
    this.#tellShared();
    await cropped;
  }

  /** How finely what is shown is recorded, from the next take on. */
  async tune(quality: Quality): Promise<void> {
    if (this.snapshot().phase === "ready") await this.#surface.tune(quality);
  }

  /**
   * Ten seconds with everything as it would be recorded, which never leave this computer.
   * @returns null where nothing came of it; why is in the state
   */
  async rehearse(choice: Choice): Promise<Rehearsed | null> {
    if (this.snapshot().phase !== "ready" || this.#changing) return null;
    const attempt = new Attempt();
    this.#attempt = attempt;
    this.set({ phase: "rehearsing", problem: null, limit: { at: REHEARSAL, why: "chosen" } });
    try {
      const [sources, settings] = this.#taken(choice);
      const make = (told: EngineListener) => this.#makeEngine(sources, settings, told);
      const rehearsed = await rehearse(make, attempt.signal, {
        begun: (at) => this.#clock.start(at),
        pace: (pace, suppressionMs) => this.#keepUp(pace, suppressionMs),
      });
      this.#reset();
      this.set({ phase: "ready" });
      return rehearsed;
    } catch (error) {
      await this.#abandon(error);
      return null;
    }
  }

  /** Counts in, and records; asks for the surface first where none is chosen. Must be called from a press. */
  async record(choice: Choice): Promise<void> {
    if (this.snapshot().phase !== "ready" || this.#changing) return;
    const attempt = new Attempt();
    this.#attempt = attempt;
    this.set({ problem: null, lost: [], take: null, limit: choice.limit, limited: false });
    try {
      if (showsScreen(choice.source) && !this.#surface.shared) await this.#ask(attempt.signal);
      if (choice.startAt !== null) await this.#waitUntil(choice.startAt, choice.countIn, attempt);
      const prepared = this.#prepare(choice, attempt);
      // What fails while counting in ends the count; it is told by the wait below.
      prepared.catch((error: unknown) => attempt.giveUp(error));
      await attempt.countIn(choice.countIn, (count) => this.set({ phase: "counting", count }));
      await attempt.unless(prepared);
      this.#begin(choice);
    } catch (error) {
      await this.#abandon(error);
    }
  }

  /** Before the first frame: no recording after all. Nothing is kept but the surface, for another try. */
  cancel(): void {
    this.#attempt?.giveUp(new Cancelled());
  }

  /** The person goes elsewhere: what was only being prepared is given up; a take goes on. */
  leave(): void {
    this.#attempt?.giveUp(new Left());
    this.release();
  }

  /** The page that opened a device is left. @returns whether a take needs it still; it then ends with the take */
  giveOver(device: Device, track: MediaStreamTrack): boolean {
    return this.isRunning && this.#devices.giveOver(device, track);
  }

  /**
   * The device that a take goes on with, for a page that comes back to it; null where there is none.
   * @param id the one that the page wants; null for any. Another one stays with the take until it is replaced
   */
  takeOver(device: Device, id: string | null): MediaStreamTrack | null {
    return this.isRunning ? this.#devices.takeOver(device, id) : null;
  }

  /** While recording: asks for another surface, with which the track goes on. Must be called from a press. */
  async changeSurface(): Promise<void> {
    if (!this.isRunning || this.#changing) return;
    this.#changing = true;
    try {
      const { screen, sound } = await this.#surface.choose();
      // The take was stopped while the browser's window was open; one that was thrown away may be begun anew with it.
      if (!this.isRunning && this.snapshot().phase !== "ready") return this.#surface.end();
      if (this.isRunning) {
        this.#engine!.replace("screen", screen);
        if (sound && this.snapshot().shared?.withSound) this.#engine!.replace("sound", sound);
      }
      this.#tellShared();
    } catch (error) {
      if (!(error instanceof DeviceProblem && error.reason === "refused")) this.set({ problem: said(error) });
    } finally {
      this.#changing = false;
    }
  }

  /** While recording: goes on with another device. One that was lost is there again. */
  replace(device: Device, track: MediaStreamTrack): void {
    const had = this.#devices.of(device);
    if (!this.isRunning || !had || had === track) return;
    this.#engine!.replace(device, track);
    const { lost } = this.snapshot();
    this.set({ lost: lost.filter((d) => d !== device) });
    if (device === "camera" && lost.includes(device)) this.arrange({ scene: this.#sceneBefore });
    this.#devices.use(device, track);
  }

  /** While recording: how loud a sound is, as a factor of amplitude. One that is muted stays so. */
  turn(kind: SoundKind, gain: number): void {
    this.#gains[kind] = gain;
    if (this.isRunning && !this.snapshot().muted.includes(kind)) this.#engine!.turn(kind, gain);
  }

  /** While recording: nothing of a sound is heard, or it is heard again. */
  mute(kind: SoundKind, muted: boolean): void {
    if (!this.isRunning) return;
    const others = this.snapshot().muted.filter((k) => k !== kind);
    this.set({ muted: muted ? [...others, kind] : others });
    this.#engine!.turn(kind, muted ? 0 : this.#gains[kind]);
  }

  pause(): void {
    if (this.snapshot().phase !== "recording") return;
    this.#clock.pause(this.#engine!.pause());
    this.set({ phase: "paused" });
    void this.#tellAlive();
  }

  resume(): void {
    if (this.snapshot().phase !== "paused") return;
    this.#clock.resume(this.#engine!.resume());
    this.set({ phase: "recording" });
    void this.#tellAlive();
  }

  /** What was said and seen in the last minutes, for whoever wants to go on from there; null where nothing runs. */
  async recall(): Promise<Recalled | null> {
    return this.isRunning ? this.#engine!.recall() : null;
  }

  /**
   * While paused: goes on from an earlier moment. What was recorded since then stays in the take, and is left out of
   * what is shown.
   * @param since in source time
   */
  goOnFrom(since: Micros): void {
    if (this.snapshot().phase !== "paused") return;
    this.entries.note({ what: "backed-up", text: "", since: Math.min(since, this.elapsed()) });
    this.resume();
  }

  /** Another scene, or the camera picture at another place or size: while recording, an event in source time. */
  arrange(change: Partial<Arrangement>): void {
    const before = this.snapshot().arrangement;
    const arrangement = { ...before, ...change };
    if (CHANGES.every((name) => arrangement[name] === before[name])) return;
    this.set({ arrangement });
    if (!this.isRunning) return void (this.#firstScene = arrangement.scene);
    this.#tellScene(this.elapsed(), USUAL_FADE);
  }

  async stop(): Promise<void> {
    if (!this.isRunning) return;
    this.#clock.pause(sharedNow());
    this.set({ phase: "saving", made: { ...this.#made, seconds: this.elapsed() / SECOND } });
    clearInterval(this.#aliveTimer);
    try {
      const { expected } = await this.#engine!.stop();
      this.#endSurface();
      this.#devices.end();
      // Every part is on this computer before the end is told; one that found no room is sent from memory.
      await this.#kept.settled();
      const finished = this.#sender!.finish(expected);
      this.set({ phase: "saved" });
      await finished;
    } catch (error) {
      this.set({ problem: this.snapshot().problem ?? `${said(error)} What was recorded up to then is kept.` });
      await this.#salvage();
    }
  }

  /** Throws the take away. The page asks first. */
  async discard(): Promise<void> {
    if (this.isRunning) await this.#abandon(new Cancelled());
  }

  /**
   * Throws the take away and counts in again, with everything as it is now. The page asks first.
   * @param about what is said of it now, where that was changed meanwhile
   */
  async startOver(about: Partial<About & { title: string }> = {}): Promise<void> {
    if (!this.isRunning) return;
    const [camera, microphone] = [this.#devices.of("camera") ?? null, this.#devices.of("microphone") ?? null];
    const choice: Choice = { ...this.#choice!, ...about, camera, microphone, gains: { ...this.#gains }, startAt: null };
    // No page holds these any more: they are the next take's.
    const givenOver = this.#devices.handOn();
    await this.discard();
    await this.record(choice);
    for (const track of givenOver) {
      if (this.isRunning && this.giveOver(camera === track ? "camera" : "microphone", track)) continue;
      track.stop();
    }
  }

  /** Makes ready for the next recording. */
  again(): void {
    if (this.snapshot().phase !== "saved") return;
    this.#reset();
    this.set({ phase: "ready" });
  }

  /** The camera can be arranged with a screen in this take. */
  get arranges(): boolean {
    return this.#frame !== null;
  }

  /** What this take is made of; null before the first one. */
  get source(): TakeSource | null {
    return this.#choice?.source ?? null;
  }

  /** Something is seen in this take. */
  get hasPicture(): boolean {
    return this.#choice !== null && this.#choice.source !== "voice";
  }

  /** What this take is recorded with; undefined where it has none. */
  deviceOf(device: Device): MediaStreamTrack | undefined {
    return this.#devices.of(device);
  }

  /** How loud a sound of this take is recorded, as a factor of amplitude. */
  gainOf(kind: SoundKind): number {
    return this.#gains[kind];
  }

  /** A take is under way. */
  get isRunning(): boolean {
    return this.snapshot().phase === "recording" || this.snapshot().phase === "paused";
  }

  async #ask(signal: AbortSignal): Promise<void> {
    this.set({ phase: "asking" });
    await this.#surface.choose();
    // It was cancelled while the browser's own window was open.
    signal.throwIfAborted();
    this.#tellShared();
  }

  /** The person ended the share in the browser, or what was shown is gone. */
  #surfaceEnded(): void {
    // Whoever ends it while it counts in wants no recording; while a start is waited for, nobody may be looking.
    this.#attempt?.giveUp(this.snapshot().phase === "waiting" ? new Error(GONE) : new Cancelled());
    void this.stop();
    if (this.snapshot().phase !== "ready") return;
    this.#tellShared();
    this.set({ problem: GONE });
  }

  #tellShared(): void {
    const { shared, size, area } = this.#surface;
    // A take has a track for the sound of its surface from the start, or never.
    const withSound = Boolean(shared?.sound) && (!this.isRunning || this.snapshot().shared?.withSound === true);
    this.set({ shared: shared && { surface: surfaceOf(shared.screen), withSound, size, area, screen: shared.screen } });
  }

  /** What is recorded, and how. */
  #taken({ source, camera, microphone, gains, suppresses }: Choice): [Sources, TrackSettings] {
    const { shared, quality, area } = this.#surface;
    const sources: Sources = {
      ...(showsScreen(source) && shared && { screen: shared.screen }),
      ...(showsScreen(source) && shared?.sound && { sound: shared.sound }),
      ...(showsCamera(source) && camera && { camera }),
      ...(microphone && { microphone }),
    };
    this.#gains = { ...gains };
    return [sources, { quality, area, suppresses, gains: { ...gains } }];
  }

  async #prepare(choice: Choice, attempt: Attempt): Promise<void> {
    const [sources, settings] = this.#taken(choice);
    const most = bytesAMinute(Object.keys(sources) as TrackKind[], settings.quality);
    this.#made = { source: choice.source, bytes: 0, most };
    const engine = this.#makeEngine(sources, settings, {
      part: (kind, number, bytes, end) => this.#keep(kind, number, bytes, end),
      failed: (error) => {
        attempt.giveUp(error);
        if (this.#engine === engine) void this.stop();
      },
      pace: (pace, suppressionMs) => this.#keepUp(pace, suppressionMs),
      limit: () => {
        this.set({ limited: true });
        void this.stop();
      },
      slept: (from, to) => {
        this.#clock.skip(from, to);
        const length = formatClock((to - from) * MILLISECOND);
        this.set({ problem: `This computer stood still for ${length}. That time is left out; recording goes on.` });
      },
    });
    this.#engine = engine;
    const { take, sender } = await attempt.prepare(engine, () => this.parts.startTake(choice), this.parts.outbox);
    this.#sender = sender;
    this.set({ take });
  }

  async #waitUntil(startAt: number, countIn: number, attempt: Attempt): Promise<void> {
    this.set({ phase: "waiting", startsAt: startAt });
    await attempt.unless((this.parts.wakeAt ?? wakeAt)(startAt - 1000 * countIn, attempt.signal));
    this.set({ startsAt: null });
  }

  #keepUp(pace: Health["pace"], suppressionMs: number | null): void {
    this.#pace = pace;
    const suppression = suppressionMs === null ? null : (suppressionMs * MILLISECOND) / this.elapsed();
    // Told in hundredths: what is less is no news.
    if (suppression !== null && Math.abs(suppression - (this.snapshot().suppression ?? 0)) > 0.005)
      this.set({ suppression });
    const slowed = Object.values(pace).some(({ step }) => step > 1);
    if (slowed !== this.snapshot().slowed) this.set({ slowed });
  }

  #keep(kind: TrackKind, number: number, bytes: ArrayBuffer, end: Micros): void {
    this.#made.bytes += bytes.byteLength;
    this.#kept.add(kind, end, this.#sender!.add(kind, number, bytes)).catch(() => {
      this.set({
        problem: "This computer has no room left for the recording. It was stopped; what was recorded is kept.",
      });
      void this.stop();
    });
  }

  #begin(choice: Choice): void {
    const { source, camera, microphone, limit } = choice;
    this.#attempt = null;
    this.#choice = choice;
    // The track keeps the shape that its screen has now, whatever becomes of that.
    this.#frame = source === "screen-camera" && camera ? this.#surface.frame : null;
    this.#clock.start(this.#engine!.start(limit?.at ?? null));
    this.set({ phase: "recording", count: 0 });
    this.#aliveTimer = setInterval(() => void this.#tellAlive(), ALIVE_MS);
    void this.#tellAlive();
    this.#tellScene(0, 0);
    if (camera) this.#devices.use("camera", camera);
    if (microphone) this.#devices.use("microphone", microphone);
  }

  /** A device that goes is told at once; the take goes on with the rest. */
  #takeDevices(): TakeDevices {
    return new TakeDevices((device) => {
      const { lost, arrangement } = this.snapshot();
      if (!this.isRunning || lost.includes(device)) return;
      this.set({ lost: [...lost, device] });
      if (device !== "camera") return;
      this.#sceneBefore = arrangement.scene;
      this.arrange({ scene: "screen" });
    });
  }

  async #tellAlive(): Promise<void> {
    if (this.isRunning) await this.#sender?.note(this.snapshot().phase === "paused");
  }

  /** What is seen from a moment on. */
  #tellScene(at: Micros, fade: Micros): void {
    if (!this.#frame) return;
    this.entries.scene(at, { ...sceneOf(this.#frame, this.snapshot().arrangement), fade });
  }

  /** The engine broke: closes the take with what has been kept. */
  async #salvage(): Promise<void> {
    this.#engine?.abort();
    this.#endSurface();
    this.#devices.end();
    await this.#kept.settled();
    const takeId = this.snapshot().take?.takeId;
    if (takeId) await this.parts.outbox.salvage(takeId);
    this.set({ phase: "saved" });
  }

  /** Gives up the attempt or the take, for whatever reason. The surface stays for another try, unless they left. */
  async #abandon(reason: unknown): Promise<void> {
    clearInterval(this.#aliveTimer);
    this.#engine?.abort();
    this.#devices.end();
    if (reason instanceof Left) this.#surface.end();
    const { take } = this.snapshot();
    await this.#kept.settled();
    const unmade = take && (await this.parts.outbox.throwAway(take).then(() => null, said));
    this.#reset();
    this.set({ phase: "ready", take: null, problem: reason instanceof Cancelled ? unmade : said(reason) });
    this.#tellShared();
  }

  #endSurface(): void {
    this.#surface.end();
    this.#tellShared();
  }

  #reset(): void {
    this.#attempt = null;
    this.#engine = null;
    this.#sender = null;
    this.#kept = new KeptParts();
    this.#pace = {};
    this.#clock = new SourceClock();
    this.#devices = this.#takeDevices();
    this.entries.begin();
    // The next take begins as this one did, at the place and size of now.
    const arrangement = { ...this.snapshot().arrangement, scene: this.#firstScene };
    this.set({ startsAt: null, count: 0, slowed: false, muted: [], arrangement });
  }
}

const said = (error: unknown): string => (error instanceof Error ? error.message : String(error));
