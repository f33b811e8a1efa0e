import { randomUUID } from "node:crypto";
import type { ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events, NewEvent } from "../live/events";
import { shownLineOf, shownOnly, sourceOf } from "../recordings/shown-lines";
import { REACTIONS } from "./sql";
import type { Viewer } from "./viewers";

export interface ShownReaction {
  id: string;
  kind: ReactionKind;
  at: Micros;
  author: string;
  /** null for a guest without a name, and for who asked not to be named */
  name: string | null;
}

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
      this.db.rows<ShownReaction>(REACTIONS, [recordingId, MOST]),
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
      await this.db.models.Reaction.create(
        { id, recordingId, viewerId: viewer.id, kind, atUs: source },
        { transaction },
      );
      return { result: id, events: [event(id)] };
    });
  }

  /** Takes back one's own. */
  async remove(recordingId: string, viewer: Viewer, { id }: { id: string }): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      const where = { id, recordingId, viewerId: viewer.id };
      if ((await this.db.models.Reaction.destroy({ where, transaction })) === 0)
        throw new Problem(404, "no-such-reaction", "This reaction is not there any more, or is somebody else's.");
      return { result: undefined, events: [event(id)] };
    });
  }
}
