import { randomUUID } from "node:crypto";
import { customAlphabet, nanoid } from "nanoid";
import { UniqueConstraintError } from "sequelize";
import type { Audience } from "#core/access/access";
import type { AccessFacts, KnownRecording } from "../access/facts";
import { hashPassword } from "../accounts/passwords";
import { requireOutside } from "../access/require";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { NEW_LINK, NOTE_CONSENT, SHARED_AS, SHORTEN } from "./sql";

/** Who else is seen or heard in a recording, as its sender has noted it: nobody where `who` is empty. */
export interface Consent {
  who: string;
  /** when it was noted that they agree that others see it; null where it was not */
  agreedAt: string | null;
}

/** Who may open a recording, and with what, as its sender sees it. */
export interface SharedAs {
  audience: Audience;
  opensAt: string | null;
  endsAt: string | null;
  hasPassword: boolean;
  comments: boolean;
  downloads: boolean;
  asksNames: boolean;
  /** eight characters; null where nobody has wanted them */
  short: string | null;
  /** the names of those who are named, in the order in which they were */
  named: string[];
  /** where it lies, and what that is called; null for nowhere */
  folderId: string | null;
  folder: string | null;
  /** the sites that may show it in their pages, where it is for anyone with the link */
  sites: string[];
  consent: Consent;
  /** it is deleted then, because nobody uses it; null where it does not go */
  goesAt: string | null;
}

/** What is to be another way. An empty password takes it away. */
export interface ShareChange {
  audience?: Audience;
  opensAt?: Date | null;
  endsAt?: Date | null;
  password?: string;
  comments?: boolean;
  downloads?: boolean;
  asksNames?: boolean;
}

/** Characters that nobody takes for each other, read or said: no 0 and o, no 1, i and l. */
const SHORT_ALPHABET = "23456789abcdefghjkmnpqrstuvwxyz";
const newShort = customAlphabet(SHORT_ALPHABET, 8);
const SHORT = new RegExp(`^[${SHORT_ALPHABET}]{8}$`);

/** Who may open a recording: told, and changed by its owner. */
export class Sharing {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    /** others may have a recording as a file: it is made, where it is not there */
    private readonly asFile: (recordingId: string) => Promise<void>,
  ) {}

  async of(recordingId: string): Promise<SharedAs> {
    const [row] = await this.db.rows<SharedAs & { opensAt: Date | null; endsAt: Date | null }>(SHARED_AS, [
      recordingId,
    ]);
    if (!row) throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
    return { ...row, opensAt: row.opensAt?.toISOString() ?? null, endsAt: row.endsAt?.toISOString() ?? null };
  }

  /**
   * @throws {Problem} 404 where it is not theirs, 403 where they may not share outside, 422 where it would end before
   *   it opens
   */
  async change(member: SignedIn, id: string, { password, ...change }: ShareChange): Promise<void> {
    const before = await this.#own(member, id);
    if (change.audience === "anyone" && before.audience !== "anyone") requireOutside(member, before.workspaceId);
    const opensAt = change.opensAt === undefined ? before.opensAt : (change.opensAt?.getTime() ?? null);
    const endsAt = change.endsAt === undefined ? before.endsAt : (change.endsAt?.getTime() ?? null);
    if (opensAt !== null && endsAt !== null && endsAt <= opensAt)
      throw new Problem(422, "ends-before", "It would end before it opens. Choose a later end, or an earlier start.");
    const locked = password === undefined ? {} : await passwordColumns(password, member.id);
    await this.db.models.Recording.update({ ...change, ...locked }, { where: { id } });
    await this.access.changed(id);
    if (change.downloads) await this.asFile(id);
  }

  /** Notes who else is seen or heard, and that they agree from now on; what is noted already keeps its day. */
  async noteConsent(member: SignedIn, id: string, { who, agreed }: { who: string; agreed: boolean }): Promise<void> {
    await this.#own(member, id);
    await this.db.rows(NOTE_CONSENT, [id, who, agreed]);
  }

  /** Gives up the link for a new one; whoever opens the old one is told so. @returns the new link's token */
  async newLink(member: SignedIn, id: string): Promise<string> {
    await this.#own(member, id);
    const token = nanoid(22);
    await this.db.rows(NEW_LINK, [id, token]);
    await this.access.changed(id);
    return token;
  }

  /** @returns what leads to the link in eight characters; the same each time */
  async shorten(member: SignedIn, id: string): Promise<string> {
    await this.#own(member, id);
    for (;;) {
      try {
        const [row] = await this.db.rows<{ short: string }>(SHORTEN, [id, newShort()]);
        return row!.short;
      } catch (cause) {
        // Taken already, which happens once in a million libraries: another one.
        if (!(cause instanceof UniqueConstraintError)) throw cause;
      }
    }
  }

  /** Where a short link leads; null for nowhere. As it is typed: large letters are small ones. */
  async tokenOfShort(text: string): Promise<string | null> {
    const short = text.toLowerCase();
    if (!SHORT.test(short)) return null;
    const row = await this.db.models.Recording.findOne({ where: { short, deletedAt: null }, attributes: ["token"] });
    return row?.token ?? null;
  }

  #own(member: SignedIn, id: string): Promise<KnownRecording> {
    return this.access.requireById(member, "change", id);
  }
}

async function passwordColumns(password: string, personId: string) {
  if (password === "") return { passwordHash: null, passwordId: null };
  return { passwordHash: await hashPassword(password, { lane: "own", one: personId }), passwordId: randomUUID() };
}
