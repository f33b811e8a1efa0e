import { createHmac, randomBytes, randomUUID } from "node:crypto";
import type { Membership, Subject } from "#core/access/access";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Folders } from "./folders";
import { FEED, FEED_OF, PUT_FEED } from "./sql";

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
 * Addresses at which a feed reader asks what is new in a folder: one for each person and folder. Such programs send no
 * cookie, so the address itself opens it; of its key the table has only the HMAC.
 */
export class Feeds {
  constructor(
    private readonly db: Database,
    private readonly folders: Folders,
    private readonly secret: string,
  ) {}

  /** The one that there was opens nothing any more. @returns the key, this once @throws {Problem} 404 */
  async make(member: SignedIn, folderId: string): Promise<string> {
    await this.folders.require(member, "see", folderId);
    const key = randomBytes(32).toString("base64url");
    await this.db.rows(PUT_FEED, [randomUUID(), member.id, folderId, this.#hash(key)]);
    return key;
  }

  async end(member: SignedIn, folderId: string): Promise<void> {
    await this.db.models.Feed.destroy({ where: { personId: member.id, folderId } });
  }

  async of(personId: string, folderId: string): Promise<FeedLine | null> {
    const [row] = await this.db.rows<FeedLine>(FEED_OF, [personId, folderId]);
    return row ?? null;
  }

  /** Whose feed this is; null for nobody's. What they may see is asked anew each time. */
  async shown(key: string): Promise<ShownFeed | null> {
    if (!KEY.test(key)) return null;
    type Row = { id: string; folderId: string; personId: string; memberships: Membership[] };
    const [row] = await this.db.rows<Row>(FEED, [this.#hash(key)]);
    if (!row) return null;
    const { id, folderId, personId, memberships } = row;
    return { id, folderId, subject: { id: personId, memberships } };
  }

  #hash(key: string): Buffer {
    return createHmac("sha256", this.secret).update(`feed ${key}`).digest();
  }
}
