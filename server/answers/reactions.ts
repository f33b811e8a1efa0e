import { randomUUID } from "node:crypto";
import type { ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events, NewEvent } from "../live/events";
import { shownLineOf, shownOnly, sourceOf } from "../recordings/shown-lines";
import { REACTIONS, REACTIONS_MADE } from "./sql";
import type { Viewer } from "./viewers";

export interface ShownReaction {
  id: string;
  kind: ReactionKind;
  at: Micros;
  author: string;
  /** null for a guest without a name, and for who asked not to be named */
  name: string | null;
}

/** The newest, one by one; all others are counted along the line. */
export const SERVED_REACTIONS = 200;
/** More than anybody means, and than a recording can show. */
const MOST_OF_ONE = 300;
const MOST = 20_000;
const event = (subject: string): NewEvent => ({ kind: "reaction", subject, senderOnly: false });

/** Reactions at moments. */
export class Reactions {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  /** The newest, in order of time. */
  async list(recordingId: string): Promise<ShownReaction[]> {
    const [line, reactions] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<ShownReaction>(REACTIONS, [recordingId, SERVED_REACTIONS]),
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
    return this.events.share(recordingId, async (transaction) => {
      const [made] = await this.db.rows<{ own: number; every: number }>(
        REACTIONS_MADE,
        [recordingId, viewer.id, MOST],
        transaction,
      );
      if (made!.own >= MOST_OF_ONE || made!.every >= MOST)
        throw new Problem(409, "many-reactions", "There are very many reactions here already. Yours was not added.");
      const id = randomUUID();
      await this.db.models.Reaction.create(
        { id, recordingId, viewerId: viewer.id, kind, atUs: source },
        { transaction },
      );
      return { result: id, events: [event(id)] };
    });
  }

  /** Takes back one's own. */
  async remove(recordingId: string, viewer: Viewer, { id }: { id: string }): Promise<void> {
    await this.events.share(recordingId, async (transaction) => {
      const where = { id, recordingId, viewerId: viewer.id };
      if ((await this.db.models.Reaction.destroy({ where, transaction })) === 0)
        throw new Problem(404, "no-such-reaction", "This reaction is not there any more, or is somebody else's.");
      return { result: undefined, events: [event(id)] };
    });
  }
}
