import { createHmac, randomInt, timingSafeEqual } from "node:crypto";
import { LRUCache } from "lru-cache";
import type { Logger } from "pino";
import type { Pass } from "#core/access/access";
import type { AccessFacts, KnownRecording } from "../access/facts";
import { isPassword } from "../accounts/passwords";
import type { Database } from "../database/connection";
import type { DeedLimits } from "../deed-limits";
import { Afterwards } from "../afterwards";
import { isUuid } from "../http/fields";
import { Problem } from "../http/problem";
import type { FolderPeople } from "../folders/people";
import type { Post } from "../mail/post";
import { BY_ADDRESS_AT_FOLDER, BY_ADDRESS_AT_LINK, PUT_CODE, TRY_CODE } from "./sql";

const CODE_MINUTES = 15;
const CODE_TRIES = 5;
/** A class gives one password: it is checked once, and remembered for so long. */
const REMEMBER_MS = 60_000;

/** What stands behind a door: what a link leads to, by its token, or a folder, by its id. */
export type Behind = { token: string } | { folder: string };

/** Somebody who proves themselves by their address, and the pass that they get. */
interface ByAddress {
  by: "invite" | "folder";
  to: string;
  pass: string;
  name: string;
  /** null for the people of folders */
  inviteId: string | null;
  recordingId: string | null;
}

/** Ways past a closed link: a password, a personal link, a code by mail. Each gives a pass, which a browser keeps. */
export class Doors {
  #right = new LRUCache<string, true>({ max: 2_000, ttl: REMEMBER_MS });
  #afterwards: Afterwards;

  constructor(
    private readonly parts: {
      db: Database;
      access: AccessFacts;
      folderPeople: FolderPeople;
      post: Post;
      limits: DeedLimits;
      log: Logger;
    },
    private readonly secret: string,
  ) {
    this.#afterwards = new Afterwards(parts.log, "code not sent");
  }

  /**
   * @param recording whose door asks for a password
   * @throws {Problem} 422 for a wrong one, 429 after very many from one address, or from all
   */
  async password(recording: KnownRecording, given: string, address: string): Promise<Pass> {
    const { id, password } = recording;
    const pass: Pass = { to: id, by: "password", of: password! };
    const tried = this.#hash(`${id} ${password} ${given}`).toString("base64url");
    if (this.#right.has(tried)) return pass;
    const row = await this.parts.db.models.Recording.findByPk(id, { attributes: ["passwordHash", "passwordId"] });
    const from = { viewer: `${id} ${address}`, address };
    const everywhere = { viewer: id, address: id };
    await this.parts.limits.take("password", from);
    await this.parts.limits.take("passwordAnywhere", everywhere);
    if (
      row?.passwordId !== password ||
      !(await isPassword(row!.passwordHash ?? null, given, { lane: "link", one: address }))
    )
      throw new Problem(422, "wrong-password", "This is not the password. Look at it again, or ask whoever sent it.");
    await this.parts.limits.giveBack("password", from);
    await this.parts.limits.giveBack("passwordAnywhere", everywhere);
    this.#right.set(tried, true);
    return pass;
  }

  /**
   * Where a personal link leads, to a recording or a folder, and what whoever has it shows from now on.
   * @throws {Problem} 404
   */
  async personal(key: string): Promise<{ path: string; pass: Pass }> {
    const { Invite, Recording } = this.parts.db.models;
    const known = /^[\w-]{10,40}$/.test(key);
    const folder = known ? await this.parts.folderPeople.personal(key) : null;
    if (folder) return { path: `/f/${folder.folderId}`, pass: folder.pass };
    const invite = known ? await Invite.findOne({ where: { key } }) : null;
    const recording = invite && (await Recording.findByPk(invite.recordingId, { attributes: ["token"] }));
    if (!recording) throw new Problem(404, "not-found", "There is nothing here that you can open.");
    return { path: `/w/${recording.token}`, pass: { to: invite.recordingId, by: "invite", of: invite.pass } };
  }

  /**
   * Mails a code to an address that is named at this door. Says nothing of whether it is, or whether there is anything
   * behind it, in words or in time: the work is done afterwards.
   * Asked for again within two minutes, it is the one that was sent.
   * @throws {Problem} 429 after many
   */
  async askCode(behind: Behind, mailAddress: string, address: string): Promise<void> {
    await this.parts.limits.take("code", { viewer: `${mailAddress} ${address}`, address });
    this.#afterwards.do(() => this.#sendCode(behind, mailAddress));
  }

  /** @throws {Problem} 422 for a wrong code, an old one, and where there is none */
  async code(
    behind: Behind,
    { mailAddress, code, personId }: { mailAddress: string; code: string; personId: string | null },
    address: string,
  ): Promise<Pass> {
    await this.parts.limits.take("codeTry", { viewer: `${keyOf(behind)} ${mailAddress} ${address}`, address });
    const { db, access } = this.parts;
    const found = await this.#byAddress(behind, mailAddress);
    const [kept] = found ? await db.rows<{ hash: Buffer }>(TRY_CODE, [found.pass, CODE_TRIES]) : [];
    if (!found || !kept || !timingSafeEqual(kept.hash, this.#codeHash(found.pass, code)))
      throw new Problem(422, "wrong-code", "This code is not right, or too old. Look again, or ask for another one.");
    const { to, by, pass, inviteId, recordingId } = found;
    await db.models.Code.destroy({ where: { pass } });
    if (personId && inviteId && recordingId) {
      // From now on they are known by their account, wherever they sign in.
      await db.models.Invite.update({ personId }, { where: { id: inviteId, personId: null } });
      await access.changed(recordingId);
    }
    return { to, by, of: pass };
  }

  /** Ends when every code that was asked for is on its way. */
  settled = (): Promise<void> => this.#afterwards.settled();

  async #sendCode(behind: Behind, mailAddress: string): Promise<void> {
    const { db, post } = this.parts;
    const found = await this.#byAddress(behind, mailAddress);
    if (!found) return;
    const code = String(randomInt(1_000_000)).padStart(6, "0");
    const made = await db.rows(PUT_CODE, [found.pass, this.#codeHash(found.pass, code), CODE_MINUTES]);
    if (made.length === 0) return;
    const id = await post.write({
      kind: "code",
      to: { address: mailAddress, name: found.name },
      from: null,
      ...(found.recordingId && { recordingId: found.recordingId }),
      letter: {
        subject: `${code} is your code for Clear Nod`,
        title: "Your code",
        paragraphs: ["Somebody, you we hope, wants to open something that is for this address."],
        sign: `${code.slice(0, 3)} ${code.slice(3)}`,
        foot: [`It can be used once, within ${CODE_MINUTES} minutes. If it was not you, do nothing.`],
      },
    });
    await post.carryLater([id]);
  }

  async #byAddress(behind: Behind, mailAddress: string): Promise<ByAddress | undefined> {
    const { db } = this.parts;
    if ("folder" in behind && !isUuid(behind.folder)) return undefined;
    const statement = "folder" in behind ? BY_ADDRESS_AT_FOLDER : BY_ADDRESS_AT_LINK;
    return (await db.rows<ByAddress>(statement, [keyOf(behind), mailAddress]))[0];
  }

  #codeHash(pass: string, code: string): Buffer {
    return this.#hash(`code ${pass} ${code}`);
  }

  #hash(text: string): Buffer {
    return createHmac("sha256", this.secret).update(text).digest();
  }
}

const keyOf = (behind: Behind): string => ("folder" in behind ? behind.folder : behind.token);
