import { randomUUID } from "node:crypto";
import Joi from "joi";
import { nanoid } from "nanoid";
import { AUDIENCES, type Audience } from "#core/access/access";
import type { NewAsk } from "#core/answers/kinds";
import { CORNERS, SIZES, type LayoutEvent } from "#core/layout/layout";
import { TAKE_SOURCES, TRACK_KINDS, type TakeSource, type TrackKind } from "#core/media/tracks";
import { wholeTake } from "#core/recipe/recipe";
import { TITLE_MAX, tidyTitle } from "#core/title/title";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { writeAsk } from "../answers/asks";
import { askForm } from "../answers/forms";
import type { Database } from "../database/connection";
import type { Expected } from "../database/models";
import { Problem } from "../http/problem";

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

export const audienceField = Joi.string().valid(...AUDIENCES);

export const startForm = Joi.object({
  source: Joi.string()
    .valid(...TAKE_SOURCES)
    .required(),
  title: titleField,
  audience: audienceField.default("owner"),
  ask: askForm.default(null).allow(null),
});

const DAY_US = 24 * 3600 * 1_000_000;
const layout = Joi.array()
  .max(2_000)
  .items(
    Joi.object({
      at: Joi.number().integer().min(0).max(DAY_US).required(),
      corner: Joi.string()
        .valid(...CORNERS)
        .required(),
      size: Joi.string()
        .valid(...SIZES)
        .required(),
      shown: Joi.boolean().required(),
    }),
  )
  .custom((events: LayoutEvent[], helpers) =>
    events.every((e, i) => i === 0 || e.at >= events[i - 1]!.at) ? events : helpers.error("any.invalid"),
  );

/** What a recorder says now and then: it lives, whether it is paused, and the layout so far. */
export const noteForm = Joi.object({ paused: Joi.boolean().required(), layout: layout.required() });

/** What a recorder says at the end: how many segments each track has. */
export const finishForm = Joi.object({
  expected: Joi.object(
    Object.fromEntries(TRACK_KINDS.map((k) => [k, Joi.number().integer().min(0).max(50_000)])),
  ).required(),
  layout: layout.required(),
});

export interface StartedTake {
  recordingId: string;
  takeId: string;
  token: string;
  title: string;
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
    /** called when the last segment of a take is in, with the keys of what lay beyond its end and was dropped */
    private readonly completed: (takeId: string, beyond: string[]) => Promise<void>,
  ) {}

  /** Makes a recording with its link, its take, and its first revision, which shows all of the take as it grows. */
  async start(
    member: SignedIn,
    { source, title, audience, ask }: { source: TakeSource; title: string; audience: Audience; ask?: NewAsk | null },
  ): Promise<StartedTake> {
    const { Recording, Take, Revision } = this.db.models;
    return this.db.sequelize.transaction(async (transaction) => {
      const takeId = randomUUID();
      const recording = await Recording.create(
        {
          id: randomUUID(),
          workspaceId: member.workspaceId,
          ownerId: member.id,
          title,
          audience,
          // 22 characters of 64: 132 random bits
          token: nanoid(22),
        },
        { transaction },
      );
      await Take.create({ id: takeId, recordingId: recording.id, position: 1, source }, { transaction });
      await Revision.create(
        { id: randomUUID(), recordingId: recording.id, number: 1, recipe: wholeTake(takeId) },
        { transaction },
      );
      if (ask) await writeAsk(this.db, recording.id, ask, transaction);
      return { recordingId: recording.id, takeId, token: recording.token, title: recording.title };
    });
  }

  async note(takeId: string, { paused, layout }: { paused: boolean; layout: LayoutEvent[] }): Promise<void> {
    const rows = await this.db.rows(
      `update takes set paused = $2, layout = $3, heard_at = now() where id = $1 and state = 'recording' returning id`,
      [takeId, paused, JSON.stringify(layout)],
    );
    if (rows.length === 0) throw closed();
  }

  /**
   * The recorder has stopped, and says what it made. May be told again, also with fewer segments when some were lost;
   * a complete take is not changed any more.
   */
  async finish(
    takeId: string,
    { expected, layout }: { expected: Expected; layout: LayoutEvent[] },
  ): Promise<TakeState> {
    await this.db.rows(
      `update takes set state = 'uploading', paused = false, expected = $2, layout = $3, heard_at = now()
        where id = $1 and state <> 'complete' returning id`,
      [takeId, JSON.stringify(expected), JSON.stringify(layout)],
    );
    return (await this.#completeIfWhole(takeId)) ? { state: "complete", missing: 0 } : this.state(takeId);
  }

  /** Closes those of these takes that have ended and have all their segments. */
  async completeWhole(takeIds: string[]): Promise<void> {
    // Asked after every segment, and counting is not for every segment. Not a condition of the segments' own statement:
    // read after that one's
    // commit, either the end is seen here, or the end will see the segment.
    const ending = await this.db.rows<{ id: string }>(
      "select id from takes where id = any($1::uuid[]) and state = 'uploading'",
      [takeIds],
    );
    for (const { id } of ending) await this.#completeIfWhole(id);
  }

  /** @returns whether it was closed now */
  async #completeIfWhole(takeId: string): Promise<boolean> {
    const rows = await this.db.rows<{ id: string; beyond: string[] }>(
      `with there as (
         select k.id, k.kind, (t.expected ->> k.kind)::int as expected, s.number, s.start_us + s.duration_us as end_us
           from takes t join tracks k on k.take_id = t.id left join segments s on s.track_id = k.id where t.id = $1
       ), counted as (
         select kind, count(*) filter (where number <= expected) as n, max(end_us) filter (where number <= expected) as end_us
           from there group by kind
       ), closed as (
         update takes t set state = 'complete'
          where t.id = $1 and t.state = 'uploading'
            and not exists (
              select 1 from jsonb_each_text(t.expected) e
                left join counted c on c.kind = e.key where e.value::int > coalesce(c.n, 0))
          returning t.recording_id
       ), dropped as (
         delete from segments s using there h, closed
          where s.track_id = h.id and s.number = h.number and h.number > coalesce(h.expected, 0) returning s.key
       )
       update recordings r set duration_us = coalesce((select max(end_us) from counted), 0)
         from closed where r.id = closed.recording_id
       returning r.id, (select coalesce(json_agg(key), '[]') from dropped) as beyond`,
      [takeId],
    );
    const [row] = rows;
    if (!row) return false;
    await this.completed(takeId, row.beyond);
    return true;
  }

  async state(takeId: string): Promise<TakeState> {
    const [row] = await this.db.rows<TakeState>(
      `select t.state, coalesce((
          select sum(greatest(0, e.value::int - (
            select count(*) from segments s join tracks k on k.id = s.track_id
             where k.take_id = t.id and k.kind = e.key and s.number <= e.value::int)))::int
            from jsonb_each_text(t.expected) e), 0) as missing
         from takes t where t.id = $1`,
      [takeId],
    );
    if (!row) throw new Problem(404, "no-such-take", "There is no such take.");
    return row;
  }

  /** Which segments are here, so that a recorder that comes back sends only the rest. */
  async stored(takeId: string): Promise<Partial<Record<TrackKind, number[]>>> {
    const rows = await this.db.rows<{ kind: TrackKind; numbers: number[] }>(
      `select k.kind, coalesce(array_agg(s.number order by s.number) filter (where s.number is not null), '{}') as numbers
         from tracks k left join segments s on s.track_id = k.id where k.take_id = $1 group by k.kind`,
      [takeId],
    );
    return Object.fromEntries(rows.map((r) => [r.kind, r.numbers]));
  }

  /**
   * Thrown away by its recorder: closed as it is and put among the deleted, from where it can still come back.
   * A take of which nothing has arrived leaves no trace.
   */
  async discard(takeId: string): Promise<void> {
    const [empty] = await this.db.rows<{ id: string }>(
      `delete from recordings r using takes t where t.id = $1 and r.id = t.recording_id
          and not exists (select 1 from tracks k join segments s on s.track_id = k.id where k.take_id = t.id) returning r.id`,
      [takeId],
    );
    if (empty) return this.access.changed(empty.id);
    const [row] = await this.db.rows<{ recordingId: string }>(
      `with closed as (
         update takes set state = 'complete', paused = false where id = $1 returning id, recording_id
       )
       update recordings r set deleted_at = coalesce(deleted_at, now()),
              duration_us = coalesce((select max(s.start_us + s.duration_us) from segments s join tracks k on k.id = s.track_id where k.take_id = $1), 0)
         from closed where r.id = closed.recording_id returning r.id as "recordingId"`,
      [takeId],
    );
    if (row) await this.access.changed(row.recordingId);
  }
}

export const closed = () => new Problem(409, "take-closed", "This take is closed; nothing more is taken for it.");
