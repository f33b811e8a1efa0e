import { randomUUID } from "node:crypto";
import Joi from "joi";
import { nanoid } from "nanoid";
import type { Transaction } from "sequelize";
import { readInvitees } from "#core/answers/invitees";
import { MEMBER_ROLES, mayInWorkspace, OUTSIDE, type MemberRole, type Outside } from "#core/access/access";
import type { Sessions, SignedIn } from "../accounts/sessions";
import { requireDeed } from "../access/require";
import type { Database } from "../database/connection";
import { nameOf, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import type { FolderPeople } from "../folders/people";
import { passOn } from "./pass-on";
import type { NewMail, Post } from "../mail/post";
import { BACK_AGAIN, LINK, LINKS, PEOPLE, PUT_TAKEN_OUT, TAKEN_OUT, TAKE_LINK } from "./sql";

/** For how many days a join link can be open. */
export const LINK_DAYS = [1, 7, 30] as const;
/** Join links of one workspace that can be open at once. */
const MOST_LINKS = 50;

export const newWorkspaceForm = Joi.object({ name: nameOf("the workspace a name") });
export const outsideForm = Joi.object({
  outside: Joi.string()
    .valid(...OUTSIDE)
    .required(),
});
export const newLinkForm = Joi.object({
  role: Joi.string()
    .valid(...MEMBER_ROLES)
    .required(),
  days: Joi.number()
    .valid(...LINK_DAYS)
    .required(),
});
export const inviteToJoinForm = newLinkForm.append({ who: Joi.string().max(4_000).required() });
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
  /** what it is called, where they have one */
  portrait: string | null;
  role: MemberRole;
  joinedAt: string;
  /** when they last had a page open here, to some minutes; null where nobody knows */
  lastAt: string | null;
  /** their recordings in this workspace, without deleted ones */
  recordings: number;
}

/** A link by which people join. */
export interface OpenLink {
  id: string;
  token: string;
  role: MemberRole;
  /** to whom it was mailed; null for one that is for whoever has it */
  address: string | null;
  madeBy: string | null;
  endsAt: string;
}

/** What somebody who opens a join link is told. */
export interface LinkWords {
  workspaceId: string;
  workspaceName: string;
  role: MemberRole;
  madeBy: string | null;
  /** whom it was mailed to; null for whoever has it */
  address: string | null;
}

/** Workspaces, who belongs to them, and how people come and go. */
export class Workspaces {
  constructor(
    private readonly db: Database,
    private readonly parts: { sessions: Sessions; post: Post; folderPeople: FolderPeople },
    private readonly publicUrl: string,
  ) {}

  /** Makes another workspace of a person's. @returns its id */
  async create(member: SignedIn, name: string): Promise<string> {
    const id = await this.db.sequelize.transaction((transaction) => this.createFor(member.id, name, transaction));
    await this.parts.sessions.changed(member.id);
    return id;
  }

  /** Calls it another name. @throws {Problem} 403 for those who may not */
  async rename(member: SignedIn, name: string): Promise<void> {
    await this.#change(member, { name });
  }

  /** Who of it may share with people from outside. */
  async outside(workspaceId: string): Promise<Outside> {
    return (await this.db.models.Workspace.findByPk(workspaceId))?.outside ?? "everybody";
  }

  /** What is shared already stays as it is. @throws {Problem} 403 for those who may not */
  async setOutside(member: SignedIn, outside: Outside): Promise<void> {
    await this.#change(member, { outside });
  }

  /** Something that everybody's sessions know of it. */
  async #change(member: SignedIn, change: { name: string } | { outside: Outside }): Promise<void> {
    requireDeed(member, "manage");
    const { workspaceId } = member;
    await this.db.models.Workspace.update(change, { where: { id: workspaceId } });
    await this.parts.sessions.changedIn(workspaceId);
  }

  async people(member: SignedIn): Promise<Colleague[]> {
    type Raw = Omit<Colleague, "joinedAt" | "lastAt"> & { joinedAt: Date; lastAt: Date | null };
    const rows = await this.db.rows<Raw>(PEOPLE, [member.workspaceId]);
    return rows.map((row) => ({
      ...row,
      joinedAt: row.joinedAt.toISOString(),
      lastAt: row.lastAt?.toISOString() ?? null,
    }));
  }

  /** The join links that are open, for those who may make them. */
  async links(member: SignedIn): Promise<OpenLink[]> {
    return mayInWorkspace(member, "manage", member.workspaceId) ? this.#openLinks(member.workspaceId) : [];
  }

  /** @throws {Problem} 403 for those who may not, 422 for too many, and for owners */
  async makeLink(member: SignedIn, { role, days }: { role: MemberRole; days: number }): Promise<void> {
    requireDeed(member, "manage");
    if (role === "owner")
      throw new Problem(422, "owner-link", "A link for whoever has it makes no owners. Invite them by mail.");
    const open = await this.#openLinks(member.workspaceId);
    if (open.length >= MOST_LINKS)
      throw new Problem(422, "too-many", `At most ${MOST_LINKS} links can be open at once.`);
    await this.#makeLink(member, { role, days, address: null });
  }

  async #makeLink(
    { id, workspaceId }: SignedIn,
    { role, days, address }: { role: MemberRole; days: number; address: string | null },
    transaction?: Transaction,
  ): Promise<string> {
    const token = nanoid(22);
    const endsAt = new Date(Date.now() + days * 24 * 3600 * 1000);
    const link = { id: randomUUID(), workspaceId, role, token, address, madeBy: id, endsAt };
    await this.db.models.JoinLink.create(link, { transaction });
    return token;
  }

  /**
   * Mails a link of their own to each address; it lets in one person.
   * @returns how many are mailed
   * @throws {Problem} 403 for those who may not, 422 for what is no address, and for too many
   */
  async invite(
    member: SignedIn,
    { who, role, days }: { who: string; role: MemberRole; days: number },
  ): Promise<number> {
    requireDeed(member, "manage");
    const { invitees, wrong } = readInvitees(who);
    const noAddress = [...wrong, ...invitees.filter((i) => !i.email).map((i) => i.name)];
    if (noAddress.length > 0 || invitees.length === 0) {
      const words =
        noAddress.length > 0 ? `These are no addresses: ${noAddress.slice(0, 3).join(", ")}.` : "Give an address.";
      throw new Problem(422, "no-address", `${words} Nobody was invited.`);
    }
    const open = await this.#openLinks(member.workspaceId);
    if (open.length + invitees.length > MOST_LINKS)
      throw new Problem(422, "too-many", `At most ${MOST_LINKS} links can be open at once.`);
    const mails = await this.db.sequelize.transaction(async (transaction) => {
      const ids: string[] = [];
      for (const { name, email } of invitees) {
        const token = await this.#makeLink(member, { role, days, address: email }, transaction);
        ids.push(
          await this.parts.post.write(this.#letter(member, { name, address: email!, token, days }), transaction),
        );
      }
      return ids;
    });
    await this.parts.post.carryLater(mails);
    return mails.length;
  }

  #letter(
    { id, name, email, workspaceName }: SignedIn,
    to: { name: string; address: string; token: string; days: number },
  ): NewMail {
    return {
      kind: "join",
      to: { address: to.address, name: to.name },
      from: { id, name, address: email },
      letter: {
        subject: `${name} invites you to ${workspaceName}`,
        title: `Join ${workspaceName}`,
        paragraphs: [
          `${name} invites you to ${workspaceName} on Clear Nod, where work is explained in short recordings.`,
        ],
        link: { words: "Join", url: `${this.publicUrl}/join/${to.token}` },
        foot: [
          `The link lets in one person, within ${to.days === 1 ? "a day" : `${to.days} days`}.`,
          `An answer to this mail goes to ${name}.`,
        ],
      },
    };
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
    if (!found) throw notOpen();
    return found;
  }

  /**
   * Makes a person a member by a join link. Whoever belongs to it already keeps what they are there.
   * @returns the workspace's id
   * @throws {Problem} 403 for somebody who was taken out, and comes by a link that is for whoever has it; as `linkOf`
   */
  async join(personId: string, token: string, transaction?: Transaction): Promise<string> {
    const { workspaceId, role } = await this.linkOf(token, transaction);
    const there = await this.db.models.Member.count({ where: { workspaceId, personId }, transaction });
    if (there === 0 && (await this.db.rows(TAKEN_OUT, [personId, token], transaction)).length > 0)
      throw new Problem(403, "taken-out", "You were taken out of this workspace. An owner can invite you by mail.");
    // One that was mailed to somebody lets in one person, also when two come at once.
    if (there === 0 && (await this.db.rows(TAKE_LINK, [token], transaction)).length === 0) throw notOpen();
    const member = { workspaceId, personId, role };
    await this.db.models.Member.bulkCreate([member], { ignoreDuplicates: true, transaction });
    await this.db.rows(BACK_AGAIN, [workspaceId, personId], transaction);
    if (!transaction) await this.parts.sessions.changed(personId);
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
    await this.parts.sessions.changed(person);
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
      await this.takeOut({ workspaceId, person, heir }, transaction);
      // Whoever leaves by themselves may come back.
      if (person !== member.id) await this.db.rows(PUT_TAKEN_OUT, [workspaceId, person], transaction);
      // Nobody is without a workspace: somebody who leaves their only one gets one of their own.
      const left = await this.db.models.Member.count({ where: { personId: person }, transaction });
      const name = (await this.db.models.Person.findByPk(person, { transaction }))!.name;
      if (left === 0) await this.createFor(person, `${name}'s workspace`, transaction);
    });
    for (const id of [person, heir]) await this.parts.sessions.changed(id);
  }

  /** Somebody belongs to it no more; what they made there is their heir's. Both are known to have belonged to it. */
  async takeOut(
    { workspaceId, person, heir }: { workspaceId: string; person: string; heir: string },
    transaction: Transaction,
  ): Promise<void> {
    await passOn(this.db, { workspaceId, from: person, to: heir }, transaction);
    await this.parts.folderPeople.leave(workspaceId, person, transaction);
    await this.db.models.Member.destroy({ where: { workspaceId, personId: person }, transaction });
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

const notOpen = () =>
  new Problem(404, "not-open", "This link does not lead into a workspace any more. Ask for a new one.");
