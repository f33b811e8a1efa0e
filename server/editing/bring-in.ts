import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { takesOf } from "#core/recipe/edits";
import { act, begun, shownBy, type History } from "#core/recipe/history";
import { MOST_TAKES, startOfTake, takeOf } from "#core/recipe/source-line";
import type { TakeSource } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Rooms } from "../desk/room";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";
import { likeOf } from "../recordings/library-query";
import { TAKES_BEFORE } from "../recordings/sql";
import type { Storage } from "../storage/storage";
import { otherDraft, readDraft, writeDraft } from "./drafts";
import { MOST_STRETCHES, type Editing, type Standing } from "./editing";
import { BRING_TAKE, HOLD_RECORDING, TAKES_TO_BRING, TO_BRING } from "./sql";

/** A recording that could be brought in. */
export interface Bringable {
  id: string;
  token: string;
  title: string;
  durationUs: Micros;
  createdAt: string;
  source: TakeSource;
  hasPoster: boolean;
}

interface TakeToBring {
  id: string;
  position: number;
  tracks: { id: string; name: string; initKey: string }[];
}

/** A take as it will be in the other recording. */
interface NewTake {
  of: TakeToBring;
  id: string;
  position: number;
  tracks: { old: string; id: string; initKey: string }[];
}

/** What another recording of the same person shows, in an edit. Who may change both is checked by the callers. */
export class BringIn {
  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
    private readonly events: Events,
    private readonly rooms: Rooms,
    private readonly editing: Editing,
    /** called with the takes that a recording has now, when its draft shows them */
    private readonly brought: (recordingId: string, takeIds: string[]) => Promise<unknown>,
  ) {}

  /** A person's own recordings, all of which is here: the newest whose title has these words. */
  async choices(member: SignedIn, recordingId: string, words: string): Promise<Bringable[]> {
    const rows = await this.db.rows<Omit<Bringable, "createdAt"> & { createdAt: Date }>(TO_BRING, [
      member.workspaceId,
      member.id,
      recordingId,
      likeOf(words),
    ]);
    return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }));
  }

  /**
   * Puts what another recording shows into the draft of this one. Its takes become takes of this one as well, of which
   * the same segments are played; nothing that is published changes, and the other one stays as it is.
   * @param from the other recording
   * @param version the draft's, as whoever asks has seen it; 0 where there is none
   * @param at the shown time of the draft at which it comes; null for the end
   * @throws {Problem} 404 where one of them is gone, 409 where something is on its way or was changed meanwhile, 422
   * for more than a recording has room for
   */
  async bring(
    { id: recordingId, workspaceId }: { id: string; workspaceId: string },
    { from, version, at }: { from: string; version: number; at: Micros | null },
  ): Promise<void> {
    if (from === recordingId) throw new Problem(422, "same-recording", "Choose another recording than this one.");
    const other = await this.editing.stretches(from);
    if (!other.whole) throw new Problem(409, "take-open", "Not all of that recording is here yet. Try again then.");
    if (other.kept.length === 0) throw new Problem(409, "nothing-shown", "That recording shows nothing.");
    const found = await this.db.rows<TakeToBring>(TAKES_TO_BRING, [from, takesOf(other.kept)]);
    const here = await this.editing.stretches(recordingId);
    const ready = await Promise.all(found.map((take) => this.#begin(take)));
    await this.events.within(recordingId, async (transaction) => {
      const takes = await this.#add(recordingId, from, workspaceId, ready, transaction);
      await this.#draft(recordingId, { version, at, here, added: movedTo(other, takes) }, transaction);
      // What is published is as it was.
      return { result: null, events: [] };
    });
    await this.brought(
      recordingId,
      ready.map(({ id }) => id),
    );
  }

  /** Its tracks begin with files of their own: edges may add to them. */
  async #begin(of: TakeToBring): Promise<Omit<NewTake, "position">> {
    const id = randomUUID();
    const tracks = await Promise.all(
      of.tracks.map(async ({ id: old, name, initKey }) => {
        const key = `takes/${id}/${name}${initKey.slice(initKey.lastIndexOf("/"))}`;
        await this.storage.put(key, await this.storage.get(initKey));
        return { old, id: randomUUID(), initKey: key };
      }),
    );
    return { of, id, tracks };
  }

  async #add(
    recordingId: string,
    from: string,
    workspaceId: string,
    ready: readonly Omit<NewTake, "position">[],
    transaction: Transaction,
  ): Promise<NewTake[]> {
    const [before] = await this.db.rows<{ takes: number; whole: boolean }>(TAKES_BEFORE, [recordingId], transaction);
    const [held] = await this.db.rows(HOLD_RECORDING, [from, workspaceId], transaction);
    if (!before || !held) throw new Problem(404, "no-such-recording", "This recording is not there any more.");
    if (!before.whole) throw new Problem(409, "take-open", "A take is still on its way. Wait until all of it is here.");
    if (before.takes + ready.length > MOST_TAKES)
      throw new Problem(422, "too-many-takes", `A recording has at most ${MOST_TAKES} takes.`);
    await this.rooms.require(workspaceId, transaction);
    const takes = ready.map((take, i) => ({ ...take, position: before.takes + i + 1 }));
    for (const { of, id, position, tracks } of takes) {
      const column = (pick: (track: NewTake["tracks"][number]) => string) => tracks.map(pick);
      const columns = [column((t) => t.old), column((t) => t.id), column((t) => t.initKey)];
      const added = await this.db.rows(BRING_TAKE, [of.id, id, recordingId, position, ...columns], transaction);
      if (added.length === 0)
        throw new Problem(409, "take-gone", "A take of that recording was thrown away meanwhile.");
    }
    return takes;
  }

  async #draft(
    recordingId: string,
    { version, at, here, added }: { version: number; at: Micros | null; here: Standing; added: Range[] },
    transaction: Transaction,
  ): Promise<void> {
    const draft = await readDraft(this.db, recordingId, transaction);
    if ((draft?.version ?? 0) !== version) throw otherDraft();
    const history: History = draft?.history ?? begun(here);
    const shown = shownBy(history);
    if (shown.kept.length + added.length > MOST_STRETCHES)
      throw new Problem(422, "too-many-stretches", `At most ${MOST_STRETCHES} stretches can be kept.`);
    const next = act(history, shown, { do: "bring-in", stretches: added, at }, here.takes);
    const seen = draft?.seen ?? here.revision;
    await writeDraft(this.db, recordingId, { version, seen, history: next }, { transaction });
  }
}

/** What is shown of a recording, where its takes stand in another one. */
function movedTo({ kept }: Standing, takes: readonly NewTake[]): Range[] {
  const moves = new Map(
    takes.map(({ of, position }) => [of.position, startOfTake(position) - startOfTake(of.position)]),
  );
  return kept.map(({ from, to }) => {
    const by = moves.get(takeOf(from))!;
    return { from: from + by, to: to + by };
  });
}
