import { randomUUID } from "node:crypto";
import type { ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events, NewEvent } from "../live/events";
import { shownLineOf, shownOnly, sourceOf } from "../recordings/shown-lines";
import { VIEWER_NAMES, type Viewer } from "./viewers";

export interface ShownReaction {
  id: string;
  kind: ReactionKind;
  at: Micros;
  author: string;
  /** null for a guest without a name, and for who asked not to be named */
  name: string | null;
}

export const REACTION_COLUMNS = `x.id, x.kind, x.at_us as at, x.viewer_id as author, case when v.named then coalesce(m.name, g.name) end as name`;
export const REACTION_TABLES = `reactions x join viewers v on v.id = x.viewer_id ${VIEWER_NAMES}`;

const MOST = 10_000;
const event = (subject: string): NewEvent => ({ kind: "reaction", subject, senderOnly: false });

/** Reactions at moments. */
export class Reactions {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  async list(recordingId: string): Promise<ShownReaction[]> {
    const [line, reactions] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<ShownReaction>(
        `select ${REACTION_COLUMNS} from ${REACTION_TABLES} where x.recording_id = $1
          order by x.at_us, x.created_at limit ${MOST}`,
        [recordingId],
      ),
    ]);
    return shownOnly(line, reactions);
  }

  /** @param at as the page of `revision` shows it; null for the published one */
  async add(
    recordingId: string,
    viewer: Viewer,
    { kind, at, revision = null }: { kind: ReactionKind; at: Micros; revision?: number | null },
  ): Promise<string> {
    const source = sourceOf(await shownLineOf(this.db, recordingId, revision), at);
    return this.events.within(recordingId, async (transaction) => {
      const id = randomUUID();
      await this.db.rows(
        "insert into reactions (id, recording_id, viewer_id, kind, at_us) values ($1, $2, $3, $4, $5) returning id",
        [id, recordingId, viewer.id, kind, source],
        transaction,
      );
      return { result: id, events: [event(id)] };
    });
  }

  /** Takes back one's own. */
  async remove(recordingId: string, viewer: Viewer, { id }: { id: string }): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      const rows = await this.db.rows(
        "delete from reactions where id = $1 and recording_id = $2 and viewer_id = $3 returning id",
        [id, recordingId, viewer.id],
        transaction,
      );
      if (rows.length === 0)
        throw new Problem(404, "no-such-reaction", "This reaction is not there any more, or is somebody else's.");
      return { result: undefined, events: [event(id)] };
    });
  }
}
