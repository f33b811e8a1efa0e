import { createHmac, randomBytes } from "node:crypto";
import { LRUCache } from "lru-cache";
import type { Membership } from "#core/access/access";
import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Channel } from "../live/channel";
import { SESSIONS, SIGNED_IN } from "./sql";

/** A workspace of somebody's. */
export interface NamedMembership extends Membership {
  workspaceName: string;
  /** they may share there with people who do not belong to it */
  sharesOutside: boolean;
  /** after so many days without use its recordings are deleted; null for never */
  unusedDays: number | null;
}

/** The person behind a request, in the one of their workspaces that this session looks at. */
export interface SignedIn extends NamedMembership {
  id: string;
  name: string;
  email: string;
  /** what it is called, where they have one */
  portrait: string | null;
  /** all their workspaces, in the order in which they joined them; never empty */
  memberships: NamedMembership[];
}

/** Somewhere that a person is signed in. */
export interface SignIn {
  id: string;
  agent: string;
  createdAt: Date;
  lastAt: Date;
  /** its browser tells what is new */
  tells: boolean;
}

const AGENT_MAX = 300;
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
  /** Counts what was forgotten, so that an answer on its way does not come in after the news that made it old. */
  #generation = 0;

  constructor(
    private readonly db: Database,
    private readonly secret: string,
    private readonly channel: Channel,
  ) {
    channel.on("notice", ({ topic, id }) => {
      if (topic === "session" || topic === "chosen") this.#forgetSession(id);
      if (topic === "person") this.#forget(id);
    });
    channel.on("resumed", () => this.#known.clear());
  }

  /**
   * @param agent what the browser says of itself, by which the person knows it again
   * @returns what the cookie shall hold
   */
  async start(personId: string, agent = ""): Promise<string> {
    const token = randomBytes(32).toString("base64url");
    await this.db.models.Session.create({
      id: this.#id(token),
      personId,
      agent: agent.slice(0, AGENT_MAX),
      expiresAt: new Date(Date.now() + SESSION_SECONDS * 1000),
    });
    return token;
  }

  async member(token: string | null): Promise<SignedIn | null> {
    if (!token || token.length > 100) return null;
    const id = this.#id(token);
    const cached = this.#known.get(id.toString("hex"));
    if (cached) return cached.member;
    const generation = this.#generation;
    const [row] = await this.db.rows<Known & { chosen: string | null }>(SIGNED_IN, [id]);
    const member = row ? signedIn(row, row.chosen) : null;
    if (generation === this.#generation) this.#known.set(id.toString("hex"), { member });
    return member;
  }

  /** Looks at another workspace from now on. Whether it is the person's is asked at every request. */
  async choose(token: string, workspaceId: string): Promise<void> {
    const id = this.#id(token);
    await this.db.models.Session.update({ workspaceId }, { where: { id } });
    this.#forgetSession(id.toString("hex"));
    await this.channel.tell({ topic: "chosen", id: id.toString("hex") });
  }

  /** To be called after a person's memberships have changed. */
  async changed(personId: string): Promise<void> {
    this.#forget(personId);
    await this.channel.tell({ topic: "person", id: personId });
  }

  /** To be called after something of a workspace has changed that everybody's sessions know. */
  async changedIn(workspaceId: string): Promise<void> {
    const members = await this.db.models.Member.findAll({ where: { workspaceId }, attributes: ["personId"] });
    for (const { personId } of members) await this.changed(personId);
  }

  async end(token: string): Promise<void> {
    const id = this.#id(token);
    await this.db.models.Session.destroy({ where: { id } });
    this.#forgetSession(id.toString("hex"));
    await this.channel.tell({ topic: "session", id: id.toString("hex") });
  }

  /** Where a person is signed in, the latest first. */
  of(personId: string): Promise<SignIn[]> {
    return this.db.rows<SignIn>(SESSIONS, [personId]);
  }

  /** Ends sessions of a person: one by its name, or all but one. */
  async endOf(
    personId: string,
    which: { only: string } | { allBut: string | null },
    transaction?: Transaction,
  ): Promise<void> {
    const all = await this.db.models.Session.findAll({ where: { personId }, attributes: ["id"], transaction });
    const ended = all.filter(({ id }) => {
      const name = id.toString("hex");
      return "only" in which ? name === which.only : name !== which.allBut;
    });
    const ids = ended.map(({ id }) => id);
    if (ids.length === 0) return;
    await this.db.models.Session.destroy({ where: { id: ids, personId }, transaction });
    const tell = async () => {
      for (const id of ids.map((one) => one.toString("hex"))) {
        this.#forgetSession(id);
        await this.channel.tell({ topic: "session", id });
      }
    };
    if (transaction) transaction.afterCommit(tell);
    else await tell();
  }

  /** The name of a session, by which others are told that it has ended. */
  idOf(token: string): string {
    return this.#id(token).toString("hex");
  }

  #forgetSession(id: string): void {
    this.#generation++;
    this.#known.delete(id);
  }

  #forget(personId: string): void {
    this.#generation++;
    for (const [key, { member }] of this.#known.entries()) if (member?.id === personId) this.#known.delete(key);
  }

  #id(token: string): Buffer {
    return createHmac("sha256", this.secret).update(token).digest();
  }
}

type Known = Pick<SignedIn, "id" | "name" | "email" | "portrait" | "memberships">;

/** A person in the workspace that they chose, or in their first one when that is theirs no more. */
export function signedIn({ id, name, email, portrait, memberships }: Known, chosen: string | null): SignedIn {
  const here = memberships.find((m) => m.workspaceId === chosen) ?? memberships[0]!;
  return { id, name, email, portrait, memberships, ...here };
}
