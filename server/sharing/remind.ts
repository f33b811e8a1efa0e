import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Post } from "../mail/post";
import { reminderLetter, type AboutRecording } from "./letters";
import { ASKS_TO_REMIND, CLAIM_REMINDER, OWING, PUT_OWED_ANEW, REMINDED, SENDER_OF, WORDS_OF } from "./sql";

/** Somebody who was asked and has not answered. */
export interface Owing {
  id: string;
  name: string;
  /** null for whoever can only be told in person */
  email: string | null;
  key: string;
  /** known by their account: it stands in their Answers, and is mailed as they want it */
  personId: string | null;
  /** was reminded within the last day */
  isReminded: boolean;
}

/** How many were reminded, and the mails that are to be carried. */
interface Reminded {
  mails: string[];
  reminded: number;
}
const NOBODY: Reminded = { mails: [], reminded: 0 };

/** So many recordings are looked at in one go. */
const BATCH = 100;

/** Reminds people of what they are asked: when the sender presses, or by itself the day before it is needed. */
export class Reminders {
  constructor(
    private readonly parts: { db: Database; post: Post },
    private readonly publicUrl: string,
  ) {}

  /**
   * Who can be reminded now: nobody within a day of the last time.
   * @param settled only those who were asked more than half a day ago
   * @throws {Problem} 409 where nobody could open it, or nobody is left to be reminded
   */
  async whom(recordingId: string, settled = false): Promise<Owing[]> {
    const owing = await this.parts.db.rows<Owing>(OWING, [recordingId, settled]);
    const some = owing.filter(
      ({ email, personId, isReminded }) => !isReminded && (email !== null || personId !== null),
    );
    if (some.length > 0) return some;
    const message = owing.some(({ isReminded }) => isReminded)
      ? "Everybody who has not answered was reminded within the last day."
      : owing.length > 0
        ? "Nobody of those who have not answered has an e-mail address. Copy their links instead."
        : "Nobody owes an answer that they could give now.";
    throw new Problem(409, "nobody", message);
  }

  /** @param whom as `whom` has it. @returns how many were reminded */
  async remind(recordingId: string, whom: readonly Owing[]): Promise<number> {
    const { db, post } = this.parts;
    const work = db.sequelize.transaction((transaction) => this.#write(recordingId, whom, transaction));
    const { mails, reminded } = await work;
    await post.carryLater(mails);
    return reminded;
  }

  /** Reminds by itself of what is needed tomorrow, once each, where the sender wants it. */
  async remindOfWhatIsDue(): Promise<void> {
    const { db, post } = this.parts;
    const due = await db.rows<{ id: string }>(ASKS_TO_REMIND, [BATCH]);
    for (const { id } of due) {
      const { mails } = await db.sequelize.transaction(async (transaction) => {
        const claimed = await db.rows(CLAIM_REMINDER, [id], transaction);
        if (claimed.length === 0) return NOBODY;
        const whom = await this.whom(id, true).catch((problem: unknown) => {
          if (!(problem instanceof Problem)) throw problem;
          return [];
        });
        return this.#write(id, whom, transaction);
      });
      await post.carryLater(mails);
    }
  }

  async #write(recordingId: string, whom: readonly Owing[], transaction: Transaction): Promise<Reminded> {
    if (whom.length === 0) return NOBODY;
    const { db, post } = this.parts;
    // Two presses at once remind once.
    const ids = whom.map(({ id }) => id);
    const reminded = await db.rows<{ id: string }>(REMINDED, [recordingId, ids], transaction);
    const now = whom.filter(({ id }) => reminded.some((one) => one.id === id));
    const known = now.filter(({ personId }) => personId !== null).map(({ id }) => id);
    await db.rows(PUT_OWED_ANEW, [known], transaction);
    const [about] = await db.rows<AboutRecording>(WORDS_OF, [recordingId], transaction);
    const [sender] = await db.rows<{ id: string; name: string; address: string }>(
      SENDER_OF,
      [recordingId],
      transaction,
    );
    const mails: string[] = [];
    for (const { id, name, email, key, personId } of now) {
      if (personId !== null || email === null) continue;
      const mail = {
        kind: "reminder" as const,
        to: { address: email, name },
        from: sender!,
        letter: reminderLetter(about!, sender!.name, `${this.publicUrl}/for/${key}`),
        recordingId,
        inviteId: id,
      };
      mails.push(await post.write(mail, transaction));
    }
    return { mails, reminded: now.length };
  }
}
