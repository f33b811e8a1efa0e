import Joi from "joi";
import { Op, UniqueConstraintError, type Transaction } from "sequelize";
import { FIRST_AUDIENCES } from "#core/access/access";
import { MOST_OF_A_KIND, TAKE_SOURCES, TRACK_KINDS, type TakeSource, type TrackName } from "#core/media/tracks";
import { MOST_TAKES } from "#core/recipe/source-line";
import { DESCRIPTION_MAX, tidyDescription, tidyTags } from "#core/title/about";
import { TITLE_MAX, tidyTitle } from "#core/title/title";
import type { AccessFacts } from "../access/facts";
import { signedIn, type SignedIn } from "../accounts/sessions";
import { askForm } from "../answers/forms";
import type { Database } from "../database/connection";
import type { Rooms } from "../desk/room";
import type { Expected } from "../database/models";
import { trackNameField, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import type { Folders } from "../folders/folders";
import type { Events } from "../live/events";
import { addTake, makeRecording, type NewRecording } from "./make";
import { SILENT_SECONDS } from "./rows";
import { PUBLISHED_EVENT, publishFirst, publishWithout, publishWithTake } from "./publish";
import {
  CLOSE_AND_DELETE,
  CLOSE_TAKE,
  COMPLETE_IF_WHOLE,
  ENDING,
  LEFT_TAKES,
  ERASE_EMPTY,
  NOTE_TAKE,
  STARTED,
  STOP_TAKE,
  STORED,
  TAKE_STATE,
  TAKES_BEFORE,
} from "./sql";

/** A recording that a browser has begun and not ended is ended here after so many days. */
const FORGOTTEN_DAYS = 14;

/** A title from a form, as it is kept. */
export const titleField = Joi.string()
  .max(TITLE_MAX)
  .required()
  .custom((value: string, helpers) => tidyTitle(value) || helpers.error("string.empty"))
  .messages({
    "any.required": "Give a title.",
    "string.empty": "Give a title.",
    "string.max": `Use at most ${TITLE_MAX} characters.`,
  });

export const descriptionField = Joi.string().allow("").max(DESCRIPTION_MAX).custom(tidyDescription);
export const tagsField = Joi.array().items(Joi.string().allow("").max(TITLE_MAX)).max(50).custom(tidyTags);

const audienceField = Joi.string().valid(...FIRST_AUDIENCES);

/**
 * A take that began where the server could not be reached has an id of its own, and tells whose it is and where it
 * was meant to be: it is registered later, maybe more than once, maybe while somebody else is signed in.
 */
const givenFields = { takeId: uuidField, by: uuidField, workspace: uuidField };

export const startForm = Joi.object({
  ...givenFields,
  source: Joi.string()
    .valid(...TAKE_SOURCES)
    .required(),
  title: titleField,
  audience: audienceField.default("owner"),
  folder: uuidField.allow(null).default(null),
  ask: askForm.default(null).allow(null),
  description: descriptionField.default(""),
  tags: tagsField.default([]),
});

/** Another take of a recording that is there. */
export const anotherForm = Joi.object({
  ...givenFields,
  recording: uuidField.required(),
  source: Joi.string()
    .valid(...TAKE_SOURCES)
    .required(),
});

/** What a recorder says now and then: it lives, and whether it is paused. */
export const noteForm = Joi.object({ paused: Joi.boolean().required() });

/** What a recorder says at the end: how many segments each track has. */
export const finishForm = Joi.object({
  expected: Joi.object()
    .pattern(trackNameField, Joi.number().integer().min(0).max(50_000))
    .max(TRACK_KINDS.length * MOST_OF_A_KIND)
    .required(),
});

export interface StartedTake {
  recordingId: string;
  takeId: string;
  token: string;
  title: string;
}

/** What a recorder gives a take that it has begun by itself. */
export interface Given {
  takeId?: string;
  by?: string;
  workspace?: string;
}

export interface WholeTake {
  takeId: string;
  recordingId: string;
  /** keys of what lay beyond its end and was dropped */
  beyond: string[];
}

/** Where a take stands after its end was told. */
export interface TakeState {
  state: "recording" | "uploading" | "complete";
  /** segments that the recorder has announced and that are not here yet */
  missing: number;
}

/**
 * The life of a take: started, noted, finished, thrown away. Who may do it is checked by the callers through
 * `AccessFacts`.
 */
export class Takes {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly events: Events,
    private readonly rooms: Rooms,
    private readonly folders: Pick<Folders, "takesIn" | "hold">,
    /** asks for what follows from the end of a take, in the transaction that closes it */
    private readonly ended: (whole: WholeTake, transaction: Transaction) => Promise<void>,
    /** told that something of a take has come in here, or that it has ended */
    readonly grew: (takeId: string) => void,
  ) {}

  /**
   * Makes a recording with its link, and starts its first take: both or neither.
   * @param id that the recorder has given it; unknown until now
   */
  async start(
    member: SignedIn,
    { source, folder = null, ...recording }: NewRecording & { source: TakeSource; folder?: string | null },
    id?: string,
  ): Promise<StartedTake> {
    await this.rooms.require(member.workspaceId);
    // One that was recorded before they heard of the rule is not lost by it: it is a draft.
    if (recording.audience === "anyone" && !member.sharesOutside) recording = { ...recording, audience: "owner" };
    const isOpen = folder !== null && (await this.folders.takesIn(member, folder));
    return this.db.sequelize.transaction(async (transaction) => {
      const folderId = isOpen ? await this.folders.hold(folder, transaction) : null;
      // Nor by a folder that is not there any more, or not for them.
      const audience = recording.audience === "folder" && !folderId ? "owner" : recording.audience;
      const made = await makeRecording(this.db, member, { ...recording, audience, folderId }, transaction);
      const takeId = await addTake(this.db, { id, recordingId: made.recordingId, position: 1, source }, transaction);
      await publishFirst(this.db, { recordingId: made.recordingId, takeId }, transaction);
      return { ...made, takeId };
    });
  }

  /**
   * Starts a take that may have been started before: an answer may be lost, and a recorder asks again.
   * @param start starts it with the id that it was given, as a person who is who recorded it, where it was recorded
   * @throws {Problem} 409 for somebody else's, 403 where they are not a member of its workspace any more
   */
  async startOnce(
    member: SignedIn,
    { takeId, by, workspace }: Given,
    start: (as: SignedIn) => Promise<StartedTake>,
  ): Promise<StartedTake> {
    if (by !== undefined && by !== member.id)
      throw new Problem(409, "other-person", "Somebody else recorded this here. It is sent when they are signed in.");
    const as = workspace === undefined ? member : inWorkspace(member, workspace);
    if (takeId === undefined) return start(as);
    return (
      (await this.#started(member, takeId)) ??
      start(as).catch(async (error: unknown) => {
        // Asked twice at one moment: one of them has made it.
        const there = error instanceof UniqueConstraintError && (await this.#started(member, takeId));
        if (!there) throw error;
        return there;
      })
    );
  }

  /** @throws {Problem} 409 when that id is the take of somebody else */
  async #started(member: SignedIn, takeId: string): Promise<StartedTake | null> {
    const [there] = await this.db.rows<StartedTake & { ownerId: string }>(STARTED, [takeId]);
    if (!there) return null;
    const { ownerId, ...take } = there;
    if (ownerId !== member.id) throw new Problem(409, "no-such-take", "There is no such take of yours.");
    return take;
  }

  /**
   * Starts another take of a recording. What is shown goes on with it as it comes in.
   * @throws {Problem} 409 while a take before it is not whole, 422 for one take too many
   */
  async another(recordingId: string, source: TakeSource, id?: string): Promise<StartedTake> {
    return this.events.within(recordingId, async (transaction) => {
      const [before] = await this.db.rows<{
        token: string;
        title: string;
        takes: number;
        whole: boolean;
        workspaceId: string;
      }>(TAKES_BEFORE, [recordingId], transaction);
      if (!before) throw new Problem(404, "no-such-recording", "This recording is not there any more.");
      await this.rooms.require(before.workspaceId, transaction);
      if (!before.whole)
        throw new Problem(409, "take-open", "The take before is still on its way. Wait until all of it is here.");
      if (before.takes >= MOST_TAKES)
        throw new Problem(422, "too-many-takes", `A recording has at most ${MOST_TAKES} takes.`);
      const position = before.takes + 1;
      const takeId = await addTake(this.db, { id, recordingId, position, source }, transaction);
      await publishWithTake(this.db, { recordingId, takeId, position }, transaction);
      const { token, title } = before;
      return { result: { recordingId, takeId, token, title }, events: [PUBLISHED_EVENT] };
    });
  }

  async note(takeId: string, { paused }: { paused: boolean }): Promise<void> {
    const rows = await this.db.rows(NOTE_TAKE, [takeId, paused]);
    if (rows.length === 0) throw closed();
  }

  /**
   * The recorder has stopped, and says what it made. May be told again, also with fewer segments when some were lost;
   * a complete take is not changed any more.
   */
  async finish(takeId: string, { expected }: { expected: Expected }): Promise<TakeState> {
    await this.db.rows(STOP_TAKE, [takeId, JSON.stringify(expected)]);
    const isWhole = await this.#completeIfWhole(takeId);
    this.grew(takeId);
    return isWhole ? { state: "complete", missing: 0 } : this.state(takeId);
  }

  /**
   * Ends the takes of a recording whose browser says nothing any more, with what is here without a gap. What is still
   * on the computer that made it is not taken any more.
   * @throws {Problem} 409 while its recorder lives
   */
  async endHere(recordingId: string): Promise<void> {
    const ended = await this.#endLeft(recordingId, SILENT_SECONDS);
    const open = await this.db.models.Take.count({ where: { recordingId, state: { [Op.ne]: "complete" } } });
    if (ended === 0 && open > 0)
      throw new Problem(409, "still-recording", "It is still being recorded, or sent. Stop it there.");
  }

  /** Nobody comes back to these after so many days: what is here of them is all there will be. */
  async endForgotten(): Promise<void> {
    await this.#endLeft(null, FORGOTTEN_DAYS * 86_400);
  }

  async #endLeft(recordingId: string | null, silentSeconds: number): Promise<number> {
    const left = await this.db.rows<{ id: string; expected: Expected }>(LEFT_TAKES, [recordingId, silentSeconds]);
    for (const { id, expected } of left) await this.finish(id, { expected });
    return left.length;
  }

  /** Closes those of these takes that have ended and have all their segments. */
  async completeWhole(takeIds: string[]): Promise<void> {
    // Asked after every segment, and counting is not for every segment. Not a condition of the segments' own statement:
    // read after that one's commit, either the end is seen here, or the end will see the segment.
    const ending = await this.db.rows<{ id: string }>(ENDING, [takeIds]);
    for (const { id } of ending) await this.#completeIfWhole(id);
  }

  /** @returns whether it was closed now */
  async #completeIfWhole(takeId: string): Promise<boolean> {
    return this.db.sequelize.transaction(async (transaction) => {
      const [whole] = await this.db.rows<WholeTake>(COMPLETE_IF_WHOLE, [takeId], transaction);
      if (whole) await this.ended(whole, transaction);
      return whole !== undefined;
    });
  }

  async state(takeId: string): Promise<TakeState> {
    const [row] = await this.db.rows<TakeState>(TAKE_STATE, [takeId]);
    if (!row) throw new Problem(404, "no-such-take", "There is no such take.");
    return row;
  }

  /** Which segments are here, so that a recorder that comes back sends only the rest. */
  async stored(takeId: string): Promise<Partial<Record<TrackName, number[]>>> {
    const rows = await this.db.rows<{ name: TrackName; numbers: number[] }>(STORED, [takeId]);
    return Object.fromEntries(rows.map((r) => [r.name, r.numbers]));
  }

  /**
   * Thrown away by its recorder. An only take takes its recording with it, among the deleted, from where it can still
   * come back, or without a trace when nothing of it has arrived. Of several, the last one is only not shown any more.
   */
  async discard(takeId: string): Promise<void> {
    const take = await this.db.models.Take.findByPk(takeId, { attributes: ["recordingId", "position"] });
    if (!take) return;
    const { recordingId, position } = take;
    if (position > 1 || (await this.db.models.Take.count({ where: { recordingId } })) > 1)
      return this.#leaveOut(recordingId, takeId);
    const [empty] = await this.db.rows<{ id: string }>(ERASE_EMPTY, [takeId]);
    if (!empty) await this.db.rows(CLOSE_AND_DELETE, [takeId]);
    await this.access.changed(recordingId);
  }

  async #leaveOut(recordingId: string, takeId: string): Promise<void> {
    const result = await this.events.within(recordingId, async (transaction) => {
      await this.db.rows(CLOSE_TAKE, [takeId], transaction);
      const result = await publishWithout(this.db, { recordingId, takeId }, transaction);
      // What another revision shows is kept for that.
      if (result !== "hidden")
        await this.db.models.Take.update(
          { discarded: true, discardedAt: new Date() },
          { where: { id: takeId }, transaction },
        );
      return { result, events: result === "published" ? [PUBLISHED_EVENT] : [] };
    });
    if (result !== "nothing-left") return;
    await this.db.models.Recording.update({ deletedAt: new Date() }, { where: { id: recordingId } });
    await this.access.changed(recordingId);
  }
}

/** A person as a member of one of their workspaces. */
function inWorkspace(member: SignedIn, workspaceId: string): SignedIn {
  const as = signedIn(member, workspaceId);
  if (as.workspaceId !== workspaceId)
    throw new Problem(403, "not-a-member", "You are not in the workspace any more in which this was recorded.");
  return as;
}

export const closed = () => new Problem(409, "take-closed", "This take is closed; nothing more is taken for it.");
