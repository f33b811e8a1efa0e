import { createHmac, randomBytes, randomUUID } from "node:crypto";
import type { Membership, Subject } from "#core/access/access";
import { rightIn } from "#core/access/folders";
import type { KnownFolder } from "../access/folder-facts";
import type { Database } from "../database/connection";
import type { Folders } from "./folders";
import { END_FEED, FEED, FEED_OF, PUT_CLIENT_FEED, PUT_FEED } from "./sql";

/** A feed that somebody has of a folder, as they see it. */
export interface FeedLine {
  madeAt: string;
  /** when it was last asked for, to some minutes */
  askedAt: string | null;
}

/** A feed whose address was asked for, and for whom it is. */
export interface ShownFeed {
  id: string;
  folderId: string;
  subject: Subject;
}

const KEY = /^[\w-]{43}$/;

/**
 * Addresses at which a feed reader asks what is new in a folder: one for each person and folder, by their account, or
 * by the personal link of a client, with which it ends. Such programs send no cookie, so the address itself opens it;
 * of its key the table has only the HMAC.
 */
export class Feeds {
  constructor(
    private readonly db: Database,
    private readonly folders: Folders,
    private readonly secret: string,
  ) {}

  /** The one that there was opens nothing any more. @returns the key, this once @throws {Problem} 404 */
  async make(subject: Subject, folderId: string): Promise<string> {
    const { person, pass } = holder(subject, await this.folders.require(subject, "see", folderId));
    const key = randomBytes(32).toString("base64url");
    await this.db.rows(pass ? PUT_CLIENT_FEED : PUT_FEED, [randomUUID(), pass ?? person, folderId, this.#hash(key)]);
    return key;
  }

  /** @throws {Problem} 404 */
  async end(subject: Subject, folderId: string): Promise<void> {
    const { person, pass } = holder(subject, await this.folders.require(subject, "see", folderId));
    await this.db.rows(END_FEED, [person, pass, folderId]);
  }

  async of(subject: Subject, folder: KnownFolder): Promise<FeedLine | null> {
    const { person, pass } = holder(subject, folder);
    const [row] = await this.db.rows<FeedLine>(FEED_OF, [person, pass, folder.id]);
    return row ?? null;
  }

  /** Whose feed this is; null for nobody's. What they may see is asked anew each time. */
  async shown(key: string): Promise<ShownFeed | null> {
    if (!KEY.test(key)) return null;
    type Row = {
      id: string;
      folderId: string;
      personId: string | null;
      pass: string | null;
      opens: string | null;
      memberships: Membership[];
    };
    const [row] = await this.db.rows<Row>(FEED, [this.#hash(key)]);
    if (!row) return null;
    const { id, folderId, personId, pass, opens, memberships } = row;
    const passes = pass ? [{ by: "folder" as const, to: opens!, of: pass }] : [];
    return { id, folderId, subject: { id: personId, memberships, passes } };
  }

  #hash(key: string): Buffer {
    return createHmac("sha256", this.secret).update(`feed ${key}`).digest();
  }
}

/** Whose a feed is: by the account where that is enough to see the folder, by the personal link where it is not. */
function holder(subject: Subject, folder: KnownFolder): { person: string | null; pass: string | null } {
  const byAccount = subject !== null && subject.id !== null && rightIn({ ...subject, passes: [] }, folder) !== null;
  if (byAccount) return { person: subject.id, pass: null };
  const pass = subject?.passes?.findLast(({ by, of }) => by === "folder" && folder.passes.has(of));
  return { person: null, pass: pass?.of ?? null };
}
