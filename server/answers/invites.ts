import { randomUUID } from "node:crypto";
import { nanoid } from "nanoid";
import { readInvitees } from "#core/answers/invitees";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";

const MOST = 500;
const EVENT = { kind: "viewer", subject: null, senderOnly: true } as const;

/** Whom the sender asks. Each gets a personal link, by which they are known when they open it. */
export class Invites {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  /**
   * Asks the people in a text; who was asked already stays asked.
   * @throws {Problem} 422 naming what is no address; then nobody was added
   */
  async add(recordingId: string, text: string): Promise<number> {
    const { invitees, wrong } = readInvitees(text);
    if (wrong.length > 0)
      throw new Problem(
        422,
        "no-address",
        `These are no addresses: ${wrong.slice(0, 3).join(", ")}. Nobody was added.`,
      );
    if (invitees.length === 0) throw new Problem(422, "nobody", "Give a name or an address.");
    return this.events.within(recordingId, async (transaction) => {
      const [there] = await this.db.rows<{ count: number }>(
        "select count(*)::int as count from invites where recording_id = $1",
        [recordingId],
        transaction,
      );
      if (there!.count + invitees.length > MOST)
        throw new Problem(422, "too-many", `At most ${MOST} people can be asked for one recording.`);
      // A colleague of that address, or of exactly that name, is known when they are signed in; whoever of them has
      // come already is taken as invited.
      const added = await this.db.rows<{ id: string; personId: string | null }>(
        `insert into invites (id, recording_id, name, email, key, person_id)
         select i.id, r.id, coalesce(m.name, i.name), i.email, i.key, m.id
           from unnest($2::uuid[], $3::text[], $4::text[], $5::text[]) as i(id, name, email, key) join recordings r on r.id = $1
           left join lateral (select m.id, m.name from people m join members b on b.person_id = m.id and b.workspace_id = r.workspace_id
             where (m.email = i.email or (i.email is null and m.name = i.name)) and m.id <> r.owner_id limit 1) m on true
          where not exists (select 1 from invites o where o.recording_id = r.id and (o.email = i.email or o.person_id = m.id or (o.email is null and i.email is null and o.name = i.name)))
         returning id, person_id as "personId"`,
        [
          recordingId,
          invitees.map(() => randomUUID()),
          invitees.map((i) => i.name),
          invitees.map((i) => i.email),
          invitees.map(() => nanoid(16)),
        ],
        transaction,
      );
      await this.db.rows(
        `update viewers v set invite_id = i.id from invites i where i.id = any($2::uuid[]) and v.recording_id = $1 and v.person_id = i.person_id and v.invite_id is null returning v.id`,
        [recordingId, added.map((a) => a.id)],
        transaction,
      );
      return { result: added.length, events: added.length > 0 ? [EVENT] : [] };
    });
  }

  /** Asks somebody no more. What they saw and said stays, as of somebody who came by themselves. */
  async remove(recordingId: string, id: string): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      await this.db.rows(
        "delete from invites where id = $1 and recording_id = $2 returning id",
        [id, recordingId],
        transaction,
      );
      return { result: undefined, events: [EVENT] };
    });
  }
}
