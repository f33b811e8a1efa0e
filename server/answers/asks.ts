import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { NOTHING_ASKED, refusalOf, type Answer, type Ask } from "#core/answers/kinds";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";
import { requireMoment } from "./moments";
import type { Viewer } from "./viewers";

export const ASK_COLUMNS = `a.kind, a.question, a.choices, to_char(a.due, 'YYYY-MM-DD') as due, a.closed`;

/** What the sender needs back, and what they got. */
export class Asks {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  async of(recordingId: string, transaction?: Transaction): Promise<Ask> {
    const [row] = await this.db.rows<Ask>(
      `select ${ASK_COLUMNS} from asks a where a.recording_id = $1`,
      [recordingId],
      transaction,
    );
    return row ?? NOTHING_ASKED;
  }

  /** Asks anew; what was asked before is replaced, and opened again. Answers that fit stay. */
  async set(recordingId: string, ask: Omit<Ask, "closed">): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      await writeAsk(this.db, recordingId, ask, transaction);
      return { result: undefined, events: [{ kind: "ask", subject: null, senderOnly: false }] };
    });
  }

  async close(recordingId: string, closed: boolean): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      const rows = await this.db.rows(
        "update asks set closed = $2 where recording_id = $1 returning recording_id",
        [recordingId, closed],
        transaction,
      );
      if (rows.length === 0) throw new Problem(409, "nothing-asked", "Nothing is asked for this recording.");
      return { result: undefined, events: [{ kind: "ask", subject: null, senderOnly: false }] };
    });
  }

  /** A viewer answers, or answers anew. @throws {Problem} 409 when that is not asked, or closed */
  async answer(recordingId: string, viewer: Viewer, answer: Answer): Promise<void> {
    if (viewer.isSender) throw new Problem(409, "own-ask", "You asked this yourself.");
    if (!viewer.name) throw new Problem(422, "no-name", "Give your name first, so that the sender knows who answers.");
    if (answer.kind === "not-clear") await requireMoment(this.db, recordingId, answer.at);
    await this.events.within(recordingId, async (transaction) => {
      const refusal = refusalOf(await this.of(recordingId, transaction), answer);
      if (refusal) throw new Problem(409, "not-asked", refusal);
      const [row] = await this.db.rows<{ id: string }>(
        `insert into answers (id, recording_id, viewer_id, answer) values ($1, $2, $3, $4)
         on conflict (viewer_id) do update set answer = excluded.answer, answered_at = now() returning id`,
        [randomUUID(), recordingId, viewer.id, JSON.stringify(answer)],
        transaction,
      );
      return { result: undefined, events: [{ kind: "answer", subject: row!.id, senderOnly: true }] };
    });
  }

  async answerOf(viewerId: string): Promise<Answer | null> {
    const [row] = await this.db.rows<{ answer: Answer }>("select answer from answers where viewer_id = $1", [viewerId]);
    return row?.answer ?? null;
  }
}

/** Writes what is asked of a recording; asking nothing leaves no row. */
export async function writeAsk(
  db: Database,
  recordingId: string,
  ask: Omit<Ask, "closed">,
  transaction: Transaction,
): Promise<void> {
  if (ask.kind === "nothing")
    await db.rows("delete from asks where recording_id = $1 returning recording_id", [recordingId], transaction);
  else {
    await db.rows(
      `insert into asks (recording_id, kind, question, choices, due) values ($1, $2, $3, $4, $5)
       on conflict (recording_id) do update set kind = $2, question = $3, choices = $4, due = $5, closed = false returning recording_id`,
      [recordingId, ask.kind, ask.question, JSON.stringify(ask.choices), ask.due],
      transaction,
    );
  }
}
