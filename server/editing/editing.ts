import { randomUUID } from "node:crypto";
import type { Logger } from "pino";
import type { Transaction } from "sequelize";
import type { InitInfo } from "#core/media/init";
import { MediaError } from "#core/media/iso";
import type { TrackName } from "#core/media/tracks";
import {
  closedAt,
  dressOf,
  inOrderOf,
  leftOut,
  lengthOf,
  outOf,
  recipeOf,
  takesOf,
  type Shown,
  type Stretches,
  type TakeStretch,
} from "#core/recipe/edits";
import { gridAfter, gridBefore, onGrid } from "#core/recipe/frames";
import { mutedIn, sameThing, type Dress } from "#core/recipe/dress";
import { doneTo, type Cutting } from "#core/recipe/history";
import { parseRecipe, type Recipe } from "#core/recipe/recipe";
import { RecipeError } from "#core/recipe/recipe-error";
import { ShownLine } from "#core/recipe/shown-line";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import { isEdge, piecesOfStretch, silenced, type CutTrack, type TrackPiece } from "#core/recipe/track-pieces";
import { fromTicks, toTicks, type Micros } from "#core/time/micros";
import { intersect, measure, type Range, type RangeSet } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";
import {
  lastRevision,
  publishEdit,
  publishRecorded,
  PUBLISHED_EVENT,
  shownOf,
  type LastRevision,
  type NewPiece,
} from "../recordings/publish";
import { REVISION_AT } from "../recordings/sql";
import { whenSeen, type TakeTrack } from "../playback/seen";
import { TAKE_TRACKS } from "../playback/sql";
import { StorageFull, type Storage } from "../storage/storage";
import { Edges, type WantedEdge } from "./edges";
import { picturesOn } from "./pictures";
import type { Suppressions } from "./suppress";
import {
  ASK_PUBLICATION,
  BACKED_UP,
  END_LONG_PUBLICATIONS,
  END_PUBLICATION,
  KNOWS_RECORDED,
  NOTE_PROGRESS,
  PICTURES_MISSING,
  PUBLICATIONS_WAITED_FOR,
  PUBLICATION,
  TAKES_TO_CUT,
  TRACKS_TO_CUT,
} from "./sql";
import { askForVoices, playedAs, voiceOf, waitForVoices, type Voice } from "./voices";

/** More stretches than an edit of a day has; each may need two edges of each track. */
export const MOST_STRETCHES = 1_000;

const AT_ONCE_MS = 20_000;

/** More edges than this are not made before they are asked for: an edit of a while needs a few of each track. */
const MOST_AHEAD = 120;

/** Where what was asked for stands. */
export interface Publication {
  id: string;
  state: "waiting" | "published" | "failed";
  /** edges that are made, of so many */
  done: number;
  wanted: number;
  /** why it failed, for the person */
  problem: string | null;
  /** nobody has asked for it: what scenes hide is cut off */
  byItself: boolean;
}

interface TakeRow {
  position: number;
  durationUs: Micros;
  whole: boolean;
  brought: boolean;
}

interface TrackRow {
  id: string;
  takeId: string;
  name: TrackName;
  init: InitInfo;
  position: number;
  numbers: number[];
  starts: Micros[];
  durations: Micros[];
  firstFrames: number | null;
}

interface PlannedPiece {
  track: TrackRow;
  /** what it is played as */
  as: TrackName;
  stretch: number;
  n: number;
  piece: TrackPiece;
}

interface Deeds {
  /** what each track plays, where that is known already */
  planned?: PlannedPiece[];
  onProgress?: (done: number, wanted: number) => Promise<unknown>;
  /** what belongs to the same transaction */
  within?: (transaction: Transaction) => Promise<unknown>;
}

/** What a recording shows, and what there is of it. */
export interface Standing extends Shown {
  takes: TakeStretch[];
  revision: number;
  /** all of the takes is here */
  whole: boolean;
}

/** Other recipes of a recording, published as other revisions. Who may ask for it is checked by the callers. */
export class Editing {
  #edges: Edges;

  constructor(
    private readonly db: Database,
    storage: Storage,
    private readonly events: Events,
    private readonly log: Logger,
    private readonly suppressions: Suppressions,
    /** asks for the work of a publication */
    private readonly later: (recordingId: string) => Promise<void>,
    /** asks for what follows from something else being shown, in the transaction that shows it */
    private readonly published: (recordingId: string, transaction: Transaction) => Promise<void>,
  ) {
    this.#edges = new Edges(db, storage);
  }

  /** What is shown, closed, and all of the takes, as stretches of the source line. */
  async stretches(recordingId: string): Promise<Standing> {
    const takes = await this.#takes(recordingId);
    const last = await lastRevision(this.db, recordingId);
    return {
      ...shownOf(last),
      takes: takes.map(allOf),
      revision: last.number,
      whole: takes.every(({ whole }) => whole),
    };
  }

  /** What is left out of the takes, and where it would be shown. */
  async out(recordingId: string): Promise<(Range & { at: Micros })[]> {
    const { kept, takes } = await this.stretches(recordingId);
    const line = new ShownLine(recipeOf(kept), 0);
    return outOf(kept, takes).map((stretch) => ({ ...stretch, at: line.toShown(stretch.from).shown }));
  }

  /** One deed upon what is shown. @throws {Problem} as `ask` */
  async change(recordingId: string, deed: Cutting, seen: number): Promise<void> {
    const { kept, dress, takes } = await this.stretches(recordingId);
    await this.ask(recordingId, { ...doneOrRefused({ kept, dress }, deed, takes), seen });
  }

  /**
   * Asks for a revision that shows these stretches. It is published when its edges are made.
   * @param seen the revision that whoever asks has seen
   * @param dress the one that is in force, where none is given
   * @param byItself it shows the same as now, and nobody has asked for it
   * @returns the id of the publication
   * @throws {Problem} 409 while a take is on its way, where another revision is shown by now, or another one is being
   * published; 422 for stretches that are not there
   */
  async ask(
    recordingId: string,
    { kept, dress, seen, byItself = false }: { kept: Stretches; dress?: Dress; seen: number; byItself?: boolean },
  ): Promise<string> {
    const takes = await this.#wholeTakes(recordingId);
    const checked = check(kept, takes);
    const { number, recipe } = await lastRevision(this.db, recordingId);
    if (!(await this.#isSeen(recordingId, { number, recipe }, seen))) throw changedMeanwhile();
    const id = randomUUID();
    const wanted = recipeOf(checked, dress ?? dressOf(parseRecipe(recipe)));
    const [missing] = await this.db.rows(PICTURES_MISSING, [recordingId, picturesOn(wanted)]);
    if (missing) throw new Problem(422, "no-such-picture", "A picture of it is not there. Put it on again.");
    const [asked] = await this.db.rows(ASK_PUBLICATION, [recordingId, id, number, JSON.stringify(wanted), byItself]);
    // Where nothing has to be made it takes no longer than asking for the work.
    const atOnce = asked && (await askForVoices(this.suppressions, recordingId, wanted)) === "made";
    const planned = atOnce ? await this.#plan(recordingId, wanted, voiceOf(wanted)) : null;
    if (planned && (await this.#edges.missing(edgesIn(planned))) === 0)
      await this.#run(recordingId, AbortSignal.timeout(AT_ONCE_MS), planned).catch((error: unknown) =>
        this.log.warn({ err: error, recordingId }, "not published at once"),
      );
    const now = await this.state(recordingId);
    if (now?.id === id && now.state === "failed") throw new Problem(409, "not-published", now.problem!);
    // Also where the change before waits: its work may have been lost with a process. What is done is not done again.
    if (now?.state === "waiting") await this.later(recordingId);
    if (!asked) throw new Problem(409, "being-published", "A change before this one is still being published.");
    return id;
  }

  /**
   * All of a take is here now: what its presenter backed up over is left out, and what its scenes hide is cut off to
   * the picture. Where that cannot be asked for now, the first is proposed to them. Safe to do twice.
   */
  async settle({ takeId, recordingId }: { takeId: string; recordingId: string }): Promise<void> {
    const backedUp = await this.db.rows<{ position: number; since: Micros; at: Micros }>(BACKED_UP, [takeId]);
    const { kept, dress, takes, revision, whole } = await this.stretches(recordingId);
    if (!whole || takes.length === 0) return;
    const left = backedUp.reduce(
      (all, { position, since, at }) =>
        leftOut(all, { from: startOfTake(position) + since, to: startOfTake(position) + at }),
      kept,
    );
    if (left.length === 0) return;
    const same = lengthOf(left) === lengthOf(kept);
    if (same && !(await this.#hides(recordingId, recipeOf(kept, dress)))) return;
    try {
      await this.ask(recordingId, { kept: left, seen: revision, byItself: same });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      this.log.warn({ recordingId, why: error.code }, "what was backed up over is only proposed");
    }
  }

  /** Do scenes hide a part of a picture that is served in segments as they were recorded? */
  async #hides(recordingId: string, recipe: Recipe): Promise<boolean> {
    const { grows } = await lastRevision(this.db, recordingId);
    if (!grows) return false;
    const line = new ShownLine(recipe, Infinity);
    const [seen, tracks] = await Promise.all([
      whenSeen(this.db, recordingId, recipe, line),
      this.db.rows<TakeTrack>(TAKE_TRACKS, [recordingId]),
    ]);
    return tracks.some(({ name, position }) => {
      const times = seen.get(name);
      if (!times) return false;
      const take = line.toShownRanges({ from: startOfTake(position), to: startOfTake(position + 1) });
      return measure(intersect(take, times)) < measure(take);
    });
  }

  async state(recordingId: string): Promise<Publication | null> {
    const [row] = await this.db.rows<Publication>(PUBLICATION, [recordingId]);
    if (!row) return null;
    const { id, state, done, wanted, problem, byItself } = row;
    return { id, state, done, wanted, problem, byItself };
  }

  /** What waits goes on: the process that worked on it may have died. Done twice, it is the same. */
  async goOn(): Promise<void> {
    await this.db.rows(END_LONG_PUBLICATIONS, ["It took longer than half a day. Publish it again."]);
    for (const { id } of await this.db.rows<{ id: string }>(PUBLICATIONS_WAITED_FOR, [])) await this.later(id);
  }

  /** Makes the edges of what was asked for, and publishes it. Safe to run again, and after it was broken off. */
  async run(recordingId: string, signal: AbortSignal): Promise<void> {
    await this.#run(recordingId, signal);
  }

  /** @param planned what was planned for it just now, where it was */
  async #run(recordingId: string, signal: AbortSignal, planned?: PlannedPiece[]): Promise<void> {
    const [row] = await this.db.rows<Publication & { recipe: unknown; seen: number }>(PUBLICATION, [recordingId]);
    if (row?.state !== "waiting") return;
    const end = (state: string, problem: string | null, transaction?: Transaction) =>
      this.db.rows(END_PUBLICATION, [recordingId, row.id, state, problem], transaction);
    /** With the revision or not at all: asked again, it is known to be done. What was superseded is not published. */
    const ended = async (transaction: Transaction) => {
      const [ours] = await end("published", null, transaction);
      if (!ours) throw changedMeanwhile();
    };
    try {
      await this.#publish(recordingId, row, signal, {
        planned,
        onProgress: (done, wanted) => this.db.rows(NOTE_PROGRESS, [recordingId, done, wanted]),
        within: ended,
      });
    } catch (error) {
      // Broken off: it is done again.
      if (signal.aborted) throw error;
      if (error instanceof Problem) return void (await end("failed", error.message));
      this.log.error({ err: error, recordingId }, "publication failed");
      await end("failed", wordsFor(error));
    }
  }

  /**
   * Makes the edges of stretches that may be asked for soon, so that publishing them waits for nothing. Not very many.
   * @throws {Problem} as `ask`, for stretches that are not there
   */
  async prepare(recordingId: string, { kept, dress }: Shown, signal: AbortSignal): Promise<void> {
    const checked = check(kept, await this.#wholeTakes(recordingId));
    const recipe = recipeOf(checked, dress);
    // It takes longer than this may; publishing waits for it.
    await askForVoices(this.suppressions, recordingId, recipe);
    const wanted = edgesIn(await this.#plan(recordingId, recipe, voiceOf(recipe)));
    if ((await this.#edges.missing(wanted)) <= MOST_AHEAD) await this.#edges.numbers(wanted, signal);
  }

  /**
   * Sees to it that everything as it was recorded can be played, as revision 0: its owner alone can reach it.
   * @throws {Problem} 409 while a take is on its way
   */
  async recorded(recordingId: string): Promise<void> {
    const kept = (await this.#wholeTakes(recordingId)).map(allOf).filter(({ from, to }) => to > from);
    if (kept.length === 0) throw new Problem(409, "nothing-recorded", "Nothing of it was recorded.");
    const recipe = recipeOf(kept);
    const known = async (transaction?: Transaction) =>
      (await this.db.rows<{ same: boolean }>(KNOWS_RECORDED, [recordingId, JSON.stringify(recipe)], transaction))[0];
    if ((await known())?.same) return;
    // A whole take has no edges: its segments are played as they are.
    const planned = (await this.#plan(recordingId, recipe, "both")).filter(({ piece }) => !isEdge(piece));
    const pieces = piecesFrom(planned, []);
    await this.events.within(recordingId, async (transaction) => {
      // Two pages that are opened at once make it once.
      const before = await known(transaction);
      if (before?.same) return { result: null, events: [] };
      await publishRecorded(this.db, recordingId, { recipe, lengthUs: lengthOf(kept), pieces }, transaction);
      return { result: null, events: before ? [PUBLISHED_EVENT] : [] };
    });
  }

  /**
   * Shows the takes of a recording in another order.
   * @param takes their positions, in the order in which they are to be shown
   * @throws {Problem} as `ask`
   */
  async reorder(recordingId: string, takes: readonly number[], seen: number): Promise<void> {
    await this.#wholeTakes(recordingId);
    const last = await lastRevision(this.db, recordingId);
    if (!(await this.#isSeen(recordingId, last, seen))) throw changedMeanwhile();
    const { kept, dress } = shownOf(last);
    let reordered: Range[];
    try {
      reordered = inOrderOf(kept, takes);
    } catch (error) {
      if (error instanceof RangeError)
        throw new Problem(422, "other-takes", "The order names other takes than are shown.");
      throw error;
    }
    // Pictures of whole takes have no edges, and those of cut ones are made: nothing is encoded here.
    const signal = AbortSignal.timeout(60_000);
    await this.#publish(recordingId, { recipe: recipeOf(reordered, dress), seen: last.number }, signal);
  }

  async #publish(
    recordingId: string,
    { recipe, seen }: { recipe: unknown; seen: number },
    signal: AbortSignal,
    { planned: known, onProgress, within }: Deeds = {},
  ): Promise<void> {
    const parsed = parseRecipe(recipe);
    const kept = closedAt(parsed, Infinity);
    if (!known) await waitForVoices(this.suppressions, recordingId, parsed, signal);
    const planned = known ?? (await this.#plan(recordingId, recipeOf(kept, dressOf(parsed)), voiceOf(parsed)));
    const pieces = piecesFrom(planned, await this.#edgesOf(planned, signal, onProgress));
    signal.throwIfAborted();
    await this.events.within(recordingId, async (transaction) => {
      const last = await lastRevision(this.db, recordingId, transaction);
      if (last.number !== seen) throw changedMeanwhile();
      const edit = { recipe: recipeOf(kept, dressOf(parsed)), lengthUs: lengthOf(kept), pieces };
      await publishEdit(this.db, last, edit, transaction);
      await within?.(transaction);
      await this.published(recordingId, transaction);
      return { result: null, events: [PUBLISHED_EVENT] };
    });
  }

  /**
   * Has whoever saw a revision seen what is shown now? Also where another one shows the same, as when what scenes hide
   * was cut off.
   */
  async #isSeen(
    recordingId: string,
    last: { number: number; recipe: unknown },
    seen: number,
    transaction?: Transaction,
  ): Promise<boolean> {
    if (last.number === seen) return true;
    const [before] = await this.db.rows<LastRevision>(REVISION_AT, [recordingId, seen], transaction);
    return before !== undefined && sameThing(shownOf(before), shownOf({ position: null, takeUs: 0, ...last }));
  }

  /** The numbers of the edges in what is planned, in their order; made where they are not there. */
  async #edgesOf(planned: readonly PlannedPiece[], signal: AbortSignal, onProgress?: Deeds["onProgress"]) {
    const edges = edgesIn(planned);
    return this.#edges.numbers(edges, signal, async (done) => onProgress?.(done, edges.length));
  }

  /**
   * What each track plays of each stretch: nothing of what a scene hides, and silence where it is muted.
   * @param recipe closed
   * @param voice which one is played; both of them by their own names, and all that was recorded
   */
  async #plan(recordingId: string, recipe: Recipe, voice: Voice | "both"): Promise<PlannedPiece[]> {
    const line = new ShownLine(recipe, Infinity);
    const [tracks, seen] = await Promise.all([
      this.db.rows<TrackRow>(TRACKS_TO_CUT, [recordingId, takesOf(line.kept)]),
      voice === "both" ? NOT_HIDDEN : whenSeen(this.db, recordingId, recipe, line),
    ]);
    const cut = playedAs(tracks, voice).map((played) => ({
      ...played,
      cut: cutTrack(played.track),
      muted: voice === "both" ? [] : mutedIn(recipe, played.as),
    }));
    let shown: Micros = 0;
    return line.kept.flatMap(({ from, to }, stretch) => {
      const take = takeOf(from);
      const [begins, start] = [shown, startOfTake(take)];
      shown += to - from;
      return cut
        .filter(({ track }) => track.position === take)
        .flatMap(({ track, as, cut, muted }) => {
          const ofTake = muted.filter((m) => takeOf(m.from) === take);
          const quiet = ofTake.map((m) => ({ from: m.from - start, to: m.to - start }));
          return partsSeen({ from: begins, to: shown }, seen.get(as))
            .flatMap((part) => {
              const within = { from: part.from - begins + from - start, to: part.to - begins + from - start };
              return silenced(piecesOfStretch(cut, within, part.from), cut, quiet);
            })
            .map((piece, n) => ({ track, as, stretch, n, piece }));
        });
    });
  }

  async #takes(recordingId: string): Promise<TakeRow[]> {
    return this.db.rows<TakeRow>(TAKES_TO_CUT, [recordingId]);
  }

  async #wholeTakes(recordingId: string): Promise<TakeRow[]> {
    const takes = await this.#takes(recordingId);
    if (takes.length === 0) throw new Problem(404, "no-such-recording", "This recording is not there any more.");
    if (takes.some(({ whole }) => !whole))
      throw new Problem(409, "take-open", "A take is still on its way. Wait until all of it is here.");
    return takes;
  }
}

const NOT_HIDDEN: ReadonlyMap<string, RangeSet> = new Map();

/** In which parts of a stretch of shown time a picture is seen, to the picture; all of it, where that is not told. */
const partsSeen = (stretch: Range, seen: RangeSet | undefined): RangeSet =>
  seen
    ? intersect([stretch], seen)
        .map(({ from, to }) => ({ from: gridBefore(from), to: gridAfter(to) }))
        .filter(({ from, to }) => to > from)
    : [stretch];

const edgesIn = (planned: readonly PlannedPiece[]) =>
  planned.flatMap(({ track, piece }): WantedEdge[] =>
    isEdge(piece) ? [{ ...piece, trackId: track.id, takeId: track.takeId, name: track.name, init: track.init }] : [],
  );

/** Pieces as a revision has them. @param numbers those of the edges among them, in their order */
function piecesFrom(planned: readonly PlannedPiece[], numbers: readonly number[]): NewPiece[] {
  let edge = 0;
  return planned.map(({ track, as, stretch, n, piece }) => {
    const movedUs = fromTicks(piece.later, track.init.timescale);
    const [first, last] = isEdge(piece) ? [numbers[edge]!, numbers[edge++]!] : [piece.first, piece.last];
    return { track: as, stretch, n, trackId: track.id, first, last, movedUs };
  });
}

const allOf = ({ position, durationUs, brought }: TakeRow): TakeStretch => ({
  from: startOfTake(position),
  to: startOfTake(position) + gridAfter(durationUs),
  ...(brought && { brought }),
});

/** @throws {Problem} 422 for what leaves nothing to show */
function doneOrRefused(shown: Shown, deed: Cutting, takes: readonly TakeStretch[]): Shown {
  try {
    return doneTo(shown, deed, takes);
  } catch (error) {
    if (error instanceof RangeError)
      throw new Problem(422, "no-such-stretch", "This would leave nothing to show. Delete the recording instead.");
    throw error;
  }
}

/** Stretches of these takes, on the grid of pictures. @throws {Problem} 422 */
function check(kept: Stretches, takes: readonly TakeRow[]): Range[] {
  const wrong = (message: string) => new Problem(422, "no-such-stretch", message);
  if (kept.length > MOST_STRETCHES) throw wrong(`At most ${MOST_STRETCHES} stretches can be kept.`);
  const closed = kept.map(({ from, to }) => ({ from: onGrid(from), to: onGrid(to) }));
  try {
    parseRecipe(recipeOf(closed));
  } catch (error) {
    if (error instanceof RecipeError) throw wrong(`This cannot be shown: ${error.message}.`);
    throw error;
  }
  const all = takes.map(allOf);
  if (closed.some(({ from, to }) => !all.some((take) => from >= take.from && to <= take.to)))
    throw wrong("A stretch lies beyond the end of its take.");
  return closed;
}

function cutTrack({ init, numbers, starts, durations, firstFrames }: TrackRow): CutTrack {
  const ticks = (micros: Micros) => toTicks(micros, init.timescale);
  const segments = numbers.map((number, i) => ({
    number,
    start: ticks(starts[i]!),
    end: ticks(starts[i]! + durations[i]!),
  }));
  const packets = firstFrames ? Math.round(ticks(durations[0]!) / firstFrames) : 1;
  return { timescale: init.timescale, unit: init.type === "audio" ? Math.max(1, packets) : 1, segments };
}

/** What a person is told of work that could not be done. */
function wordsFor(error: unknown): string {
  if (error instanceof MediaError) return error.message;
  if (error instanceof StorageFull)
    return "The server's disk is full. Nothing was changed; publish it again when there is room.";
  return "It could not be made. Try it again.";
}

export const changedMeanwhile = () =>
  new Problem(409, "changed-meanwhile", "It was changed in another window meanwhile. Look at it again.");
