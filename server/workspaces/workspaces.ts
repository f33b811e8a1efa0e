import { randomUUID } from "node:crypto";
import Joi from "joi";
import { nanoid } from "nanoid";
import type { Transaction } from "sequelize";
import { MEMBER_ROLES, mayInWorkspace, type MemberRole } from "#core/access/access";
import type { Sessions, SignedIn } from "../accounts/sessions";
import { requireDeed } from "../access/require";
import type { Database } from "../database/connection";
import { nameOf, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import { passOn } from "./pass-on";
import { LINK, LINKS, PEOPLE } from "./sql";

/** For how many days a join link can be open. */
export const LINK_DAYS = [1, 7, 30] as const;
/** Join links of one workspace that can be open at once. */
const MOST_LINKS = 50;

export const newWorkspaceForm = Joi.object({ name: nameOf("the workspace a name") });
export const newLinkForm = Joi.object({
  role: Joi.string()
    .valid(...MEMBER_ROLES)
    .required(),
  days: Joi.number()
    .valid(...LINK_DAYS)
    .required(),
});
export const closeLinkForm = Joi.object({ link: uuidField.required() });
export const roleForm = Joi.object({
  person: uuidField.required(),
  role: Joi.string()
    .valid(...MEMBER_ROLES)
    .required(),
});
export const removeForm = Joi.object({ person: uuidField.required(), heir: uuidField.required() });
export const chooseForm = Joi.object({ workspace: uuidField.required() });

/** Somebody of a workspace, as its list of people shows them. */
export interface Colleague {
  id: string;
  name: string;
  email: string;
  role: MemberRole;
  joinedAt: string;
  /** their recordings in this workspace, without deleted ones */
  recordings: number;
}

/** A link by which people join. */
export interface OpenLink {
  id: string;
  token: string;
  role: MemberRole;
  madeBy: string | null;
  endsAt: string;
}

/** What somebody who opens a join link is told. */
export interface LinkWords {
  workspaceId: string;
  workspaceName: string;
  role: MemberRole;
  madeBy: string | null;
}

/** Workspaces, who belongs to them, and how people come and go. */
export class Workspaces {
  constructor(
    private readonly db: Database,
    private readonly sessions: Sessions,
  ) {}

  /** Makes another workspace of a person's. @returns its id */
  async create(member: SignedIn, name: string): Promise<string> {
    const id = await this.db.sequelize.transaction((transaction) => this.createFor(member.id, name, transaction));
    await this.sessions.changed(member.id);
    return id;
  }

  async people(member: SignedIn): Promise<Colleague[]> {
    const rows = await this.db.rows<Omit<Colleague, "joinedAt"> & { joinedAt: Date }>(PEOPLE, [member.workspaceId]);
    return rows.map((row) => ({ ...row, joinedAt: row.joinedAt.toISOString() }));
  }

  /** The join links that are open, for those who may make them. */
  async links(member: SignedIn): Promise<OpenLink[]> {
    return mayInWorkspace(member, "manage", member.workspaceId) ? this.#openLinks(member.workspaceId) : [];
  }

  /** @throws {Problem} 403 for those who may not, 422 for too many */
  async makeLink(member: SignedIn, { role, days }: { role: MemberRole; days: number }): Promise<void> {
    requireDeed(member, "manage");
    const open = await this.#openLinks(member.workspaceId);
    if (open.length >= MOST_LINKS)
      throw new Problem(422, "too-many", `At most ${MOST_LINKS} links can be open at once.`);
    await this.db.models.JoinLink.create({
      id: randomUUID(),
      workspaceId: member.workspaceId,
      role,
      token: nanoid(22),
      madeBy: member.id,
      endsAt: new Date(Date.now() + days * 24 * 3600 * 1000),
    });
  }

  async closeLink(member: SignedIn, id: string): Promise<void> {
    requireDeed(member, "manage");
    await this.db.models.JoinLink.update(
      { closedAt: new Date() },
      { where: { id, workspaceId: member.workspaceId, closedAt: null } },
    );
  }

  /** What a join link leads to. @throws {Problem} 404 when it is closed, over, or was never made */
  async linkOf(token: string, transaction?: Transaction): Promise<LinkWords> {
    const [found] = /^[\w-]{16,64}$/.test(token) ? await this.db.rows<LinkWords>(LINK, [token], transaction) : [];
    if (!found)
      throw new Problem(404, "not-open", "This link does not lead into a workspace any more. Ask for a new one.");
    return found;
  }

  /**
   * Makes a person a member by a join link. Whoever belongs to it already keeps what they are there.
   * @returns the workspace's id
   */
  async join(personId: string, token: string, transaction?: Transaction): Promise<string> {
    const { workspaceId, role } = await this.linkOf(token, transaction);
    const member = { workspaceId, personId, role };
    await this.db.models.Member.bulkCreate([member], { ignoreDuplicates: true, transaction });
    if (!transaction) await this.sessions.changed(personId);
    return workspaceId;
  }

  /** @throws {Problem} 409 when nobody would be left to manage it */
  async changeRole(member: SignedIn, { person, role }: { person: string; role: MemberRole }): Promise<void> {
    requireDeed(member, "manage");
    await this.#changeMembers(member.workspaceId, async (transaction) => {
      await this.db.models.Member.update(
        { role },
        { where: { workspaceId: member.workspaceId, personId: person }, transaction },
      );
    });
    await this.sessions.changed(person);
  }

  /**
   * Takes somebody out of a workspace. What they made there passes to `heir`, who belongs to it.
   * @throws {Problem} 409 when nobody would be left to manage it, 422 when the heir does not belong to it
   */
  async remove(member: SignedIn, { person, heir }: { person: string; heir: string }): Promise<void> {
    requireDeed(member, "manage");
    const { workspaceId } = member;
    if (person === heir) throw new Problem(422, "no-heir", "Name somebody else who gets their recordings.");
    await this.#changeMembers(workspaceId, async (transaction) => {
      const there = await this.db.models.Member.findAll({
        where: { workspaceId, personId: [person, heir] },
        transaction,
      });
      if (!there.some((m) => m.personId === person)) return;
      if (!there.some((m) => m.personId === heir)) {
        throw new Problem(422, "no-heir", "Whoever gets their recordings has to belong to this workspace.");
      }
      await passOn(this.db, { workspaceId, from: person, to: heir }, transaction);
      await this.db.models.Member.destroy({ where: { workspaceId, personId: person }, transaction });
      // Nobody is without a workspace: somebody who leaves their only one gets one of their own.
      const left = await this.db.models.Member.count({ where: { personId: person }, transaction });
      const name = (await this.db.models.Person.findByPk(person, { transaction }))!.name;
      if (left === 0) await this.createFor(person, `${name}'s workspace`, transaction);
    });
    for (const id of [person, heir]) await this.sessions.changed(id);
  }

  async #openLinks(workspaceId: string): Promise<OpenLink[]> {
    const rows = await this.db.rows<Omit<OpenLink, "endsAt"> & { endsAt: Date }>(LINKS, [workspaceId]);
    return rows.map((row) => ({ ...row, endsAt: row.endsAt.toISOString() }));
  }

  /** Makes a workspace that a person owns, within a transaction. @returns its id */
  async createFor(personId: string, name: string, transaction: Transaction): Promise<string> {
    const { id: workspaceId } = await this.db.models.Workspace.create({ id: randomUUID(), name }, { transaction });
    await this.db.models.Member.create({ workspaceId, personId, role: "owner" }, { transaction });
    return workspaceId;
  }

  /** One change at a time, and none that leaves a workspace without an owner. */
  async #changeMembers(workspaceId: string, change: (transaction: Transaction) => Promise<void>): Promise<void> {
    await this.db.sequelize.transaction(async (transaction) => {
      await this.db.models.Workspace.findByPk(workspaceId, { lock: transaction.LOCK.UPDATE, transaction });
      await change(transaction);
      if ((await this.db.models.Member.count({ where: { workspaceId, role: "owner" }, transaction })) === 0) {
        throw new Problem(409, "no-owner", "A workspace keeps at least one owner. Make somebody else an owner first.");
      }
    });
  }
}
