import { nanoid } from "nanoid";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Post } from "../mail/post";
import { recordingLetter, type AboutRecording } from "./letters";
import { TO_MAIL, TOLD_BY_SENDING, WORDS_OF } from "./sql";

interface ToMail {
  id: string;
  name: string;
  email: string;
  key: string;
  /** their time zone, where it is known */
  zone: string | null;
}

/** Sends a recording to those who are named, each with a link of their own. */
export class Sender {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly post: Post,
    private readonly publicUrl: string,
  ) {}

  /** Who would be mailed. @param to invites; all where it is empty */
  toMail(recordingId: string, to: readonly string[]): Promise<ToMail[]> {
    return this.db.rows<ToMail>(TO_MAIL, [recordingId, to]);
  }

  /**
   * Mails the recording to people with an address. A draft is open to those who are named from then on.
   * @returns how many are mailed
   * @throws {Problem} 422 where nobody has an address
   */
  async send(
    member: SignedIn,
    recordingId: string,
    { people, words }: { people: readonly ToMail[]; words: string },
  ): Promise<number> {
    if (people.length === 0)
      throw new Problem(
        422,
        "nobody",
        "Nobody of those who are named has an e-mail address. Copy their links instead.",
      );
    const [about] = await this.db.rows<AboutRecording>(WORDS_OF, [recordingId]);
    const mails = await this.db.sequelize.transaction(async (transaction) => {
      const where = { id: recordingId, audience: "owner" as const };
      await this.db.models.Recording.update({ audience: "named" }, { where, transaction });
      const ids: string[] = [];
      for (const person of people) ids.push(await this.#write(member, recordingId, about!, person, words, transaction));
      await this.db.rows(TOLD_BY_SENDING, [recordingId, people.map((person) => person.id)], transaction);
      return ids;
    });
    await this.access.changed(recordingId);
    await this.post.carryLater(mails);
    return mails.length;
  }

  /** Closes somebody's personal link, and gives them another one; nobody else's changes. */
  async newPersonalLink(recordingId: string, inviteId: string): Promise<void> {
    const { Invite } = this.db.models;
    const fresh = { key: nanoid(16), pass: crypto.randomUUID(), mailedAt: null };
    await Invite.update(fresh, { where: { id: inviteId, recordingId } });
    await this.access.changed(recordingId);
  }

  #write(
    { id, name, email }: SignedIn,
    recordingId: string,
    about: AboutRecording,
    person: ToMail,
    words: string,
    transaction: Parameters<Post["write"]>[1],
  ): Promise<string> {
    return this.post.write(
      {
        kind: "recording",
        to: { address: person.email, name: person.name },
        from: { id, name, address: email },
        recordingId,
        inviteId: person.id,
        letter: recordingLetter(
          { ...about, zone: person.zone ?? about.zone },
          name,
          `${this.publicUrl}/for/${person.key}`,
          words,
        ),
      },
      transaction,
    );
  }
}
