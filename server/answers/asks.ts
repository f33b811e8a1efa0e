import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { NOTHING_ASKED, refusalOf, type Answer, type Ask, type Given, type NewAsk } from "#core/answers/kinds";
import { dayEnds } from "#core/time/days";
import type { ShownLine } from "#core/recipe/shown-line";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";
import { shownLineOf, sourceOf } from "../recordings/shown-lines";
import { ASK, CLOSE_ASK, PUT_ANSWER, PUT_ASK } from "./sql";
import type { Viewer } from "./viewers";

/** What the sender needs back, and what they got. */
export class Asks {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  async of(recordingId: string, transaction?: Transaction): Promise<Ask> {
    const [row] = await this.db.rows<Ask>(ASK, [recordingId], transaction);
    return row ?? NOTHING_ASKED;
  }

  /**
   * Asks anew; what was asked before is replaced, and opened again. Answers stay with what they answered.
   * @param seen the edit that is replaced knowingly; null for whichever there is
   * @throws {Problem} 409 when another one was written meanwhile
   */
  async set(recordingId: string, ask: NewAsk, seen: number | null = null): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      const now = await this.of(recordingId, transaction);
      if (seen !== null && now.edit !== seen) throw new Problem(409, "changed-meanwhile", askedMeanwhile(now));
      await writeAsk(this.db, recordingId, ask, transaction);
      return { result: undefined, events: [{ kind: "ask", subject: null, senderOnly: false }] };
    });
  }

  async close(recordingId: string, closed: boolean): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      const rows = await this.db.rows(CLOSE_ASK, [recordingId, closed], transaction);
      if (rows.length === 0) throw new Problem(409, "nothing-asked", "Nothing is asked for this recording.");
      return { result: undefined, events: [{ kind: "ask", subject: null, senderOnly: false }] };
    });
  }

  /** A viewer answers, or answers anew. @throws {Problem} 409 when that is not asked, or closed */
  async answer(recordingId: string, viewer: Viewer, given: Given & { revision?: number | null }): Promise<void> {
    const { version, revision = null } = given;
    if (viewer.isSender) throw new Problem(409, "own-ask", "You asked this yourself.");
    if (viewer.needsName)
      throw new Problem(422, "no-name", "Give your name first, so that the sender knows who answers.");
    const answer =
      given.answer.kind === "not-clear"
        ? { ...given.answer, at: sourceOf(await shownLineOf(this.db, recordingId, revision), given.answer.at) }
        : given.answer;
    await this.events.share(recordingId, async (transaction) => {
      const refusal = refusalOf(await this.of(recordingId, transaction), given);
      if (refusal) throw new Problem(409, "not-asked", refusal);
      const bind = [randomUUID(), recordingId, viewer.id, JSON.stringify(answer), version];
      const [row] = await this.db.rows<{ id: string }>(PUT_ANSWER, bind, transaction);
      return { result: undefined, events: [{ kind: "answer", subject: row!.id, senderOnly: true }] };
    });
  }

  async answerOf(recordingId: string, viewerId: string): Promise<Given | null> {
    const row = await this.db.models.Answer.findOne({ where: { recordingId, viewerId } });
    if (!row) return null;
    return { answer: shownAnswer(await shownLineOf(this.db, recordingId), row.answer), version: row.askVersion };
  }
}

const askedMeanwhile = ({ kind, question }: Ask) =>
  kind === "nothing"
    ? "Nothing is asked any more: it was taken back in another window meanwhile. Ask again to ask all the same."
    : `What you ask was changed in another window meanwhile${question ? `, to “${question}”` : ""}. Ask again to replace it.`;

/** An answer with its moment as it is shown; one whose stretch is left out stands where that was. */
export const shownAnswer = <T extends Answer | null>(line: ShownLine, answer: T): T =>
  answer?.kind === "not-clear" ? { ...answer, at: line.toShown(answer.at).shown } : answer;

/** Writes what is asked of a recording; asking nothing leaves no row. */
export async function writeAsk(
  db: Database,
  recordingId: string,
  { kind, question, choices, due, zone, reminds = false }: NewAsk,
  transaction?: Transaction,
): Promise<void> {
  if (kind === "nothing") {
    await db.models.Ask.destroy({ where: { recordingId }, transaction });
    return;
  }
  const ends = due === null ? null : new Date(dayEnds(due, zone));
  await db.rows(PUT_ASK, [recordingId, kind, question, JSON.stringify(choices), due, ends, reminds], transaction);
}
