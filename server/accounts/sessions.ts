import { createHmac, randomBytes } from "node:crypto";
import { LRUCache } from "lru-cache";
import type { Database } from "../database/connection";
import type { Channel } from "../live/channel";

/** The member behind a request. */
export interface SignedIn {
  id: string;
  workspaceId: string;
  name: string;
  email: string;
  workspaceName: string;
}

const DAYS = 30;
export const SESSION_SECONDS = DAYS * 24 * 3600;
/**
 * How long an answer is remembered, so that a stream of segments asks the database once. Signing out is told to all at
 * once.
 */
const REMEMBER_MS = 5_000;

/**
 * Sign-ins. The cookie holds a random value; the table only its HMAC with the session secret, so that neither a copy of
 * the
 * database nor the secret alone signs anybody in.
 */
export class Sessions {
  #known = new LRUCache<string, { member: SignedIn | null }>({ max: 10_000, ttl: REMEMBER_MS });

  constructor(
    private readonly db: Database,
    private readonly secret: string,
    private readonly channel: Channel,
  ) {
    channel.on("notice", ({ topic, id }) => topic === "session" && this.#known.delete(id));
    channel.on("resumed", () => this.#known.clear());
  }

  /** @returns what the cookie shall hold */
  async start(memberId: string): Promise<string> {
    const token = randomBytes(32).toString("base64url");
    await this.db.models.Session.create({
      id: this.#id(token),
      memberId,
      expiresAt: new Date(Date.now() + SESSION_SECONDS * 1000),
    });
    return token;
  }

  async member(token: string | null): Promise<SignedIn | null> {
    if (!token || token.length > 100) return null;
    const id = this.#id(token);
    const cached = this.#known.get(id.toString("hex"));
    if (cached) return cached.member;
    const [member = null] = await this.db.rows<SignedIn>(
      `select m.id, m.workspace_id as "workspaceId", m.name, m.email, w.name as "workspaceName"
         from sessions s join members m on m.id = s.member_id join workspaces w on w.id = m.workspace_id
        where s.id = $1 and s.expires_at > now()`,
      [id],
    );
    this.#known.set(id.toString("hex"), { member });
    return member;
  }

  async end(token: string): Promise<void> {
    const id = this.#id(token);
    await this.db.models.Session.destroy({ where: { id } });
    this.#known.delete(id.toString("hex"));
    await this.channel.tell({ topic: "session", id: id.toString("hex") });
  }

  /** The name of a session, by which others are told that it has ended. */
  idOf(token: string): string {
    return this.#id(token).toString("hex");
  }

  #id(token: string): Buffer {
    return createHmac("sha256", this.secret).update(token).digest();
  }
}
