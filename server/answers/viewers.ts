import { createHmac, randomBytes, randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Events } from "../live/events";
import { INVITE_OF, viewer, visit } from "./sql";

/** Whoever opens a link: a member, or a browser with its guest cookie. */
export interface Who {
  member: SignedIn | null;
  guestKey: string | null;
  /** where they come from, for limits */
  address: string;
}

/** Somebody at one recording. */
export interface Viewer {
  id: string;
  /** their row in the figures; below 0 is the sender */
  number: number;
  /** null for a guest who gave no name yet */
  name: string | null;
  isSender: boolean;
  isMember: boolean;
  /** false: counted, and not named */
  named: boolean;
}

export interface Visit {
  /** the key in the personal link that was opened */
  invite: string | null;
  named: boolean;
}

/** Who opens links. Guests are known by a random cookie, of which the database has only the HMAC. */
export class Viewers {
  constructor(
    private readonly db: Database,
    private readonly secret: string,
    private readonly events: Events,
  ) {}

  /** Notes that the page was opened. @returns the viewer, and the key that a new guest's browser shall keep */
  async visit(
    recording: KnownRecording,
    who: Who,
    { invite, named }: Visit,
  ): Promise<{ viewer: Viewer; newKey: string | null }> {
    const guest = who.member ? null : await this.#guest(who.guestKey);
    await this.events.within(recording.id, async (transaction) => {
      const inviteId = await this.#inviteOf(recording.id, who.member, invite, transaction);
      const [row] = await this.db.rows<{ isNew: boolean }>(
        visit(who.member ? "person" : "guest"),
        [randomUUID(), recording.id, who.member?.id ?? null, recording.ownerId, guest?.id ?? null, inviteId, named],
        transaction,
      );
      // A new face is news for the sender; a face that comes back is told by the figures.
      return {
        result: undefined,
        events:
          row!.isNew && who.member?.id !== recording.ownerId
            ? [{ kind: "viewer", subject: null, senderOnly: true }]
            : [],
      };
    });
    const viewer = await this.find(recording, { ...who, guestKey: guest?.key ?? null });
    return { viewer: viewer!, newKey: guest?.isNew ? guest.key : null };
  }

  /** The viewer of a recording, if they have opened its page. */
  async find(recording: KnownRecording, { member, guestKey }: Who): Promise<Viewer | null> {
    if (!member && !isKey(guestKey)) return null;
    const [row] = await this.db.rows<{ id: string; number: number; guestName: string | null; named: boolean }>(
      viewer(member ? "person" : "guest"),
      [recording.id, member ? member.id : this.#hash(guestKey!)],
    );
    if (!row) return null;
    return {
      id: row.id,
      number: row.number,
      named: row.named,
      name: member?.name ?? row.guestName,
      isSender: member?.id === recording.ownerId,
      isMember: member !== null,
    };
  }

  /** A guest's name, for everything this browser says from now on and has said before. */
  async nameGuest(guestKey: string | null, name: string): Promise<void> {
    if (isKey(guestKey)) await this.db.models.Guest.update({ name }, { where: { key: this.#hash(guestKey!) } });
  }

  async #guest(key: string | null): Promise<{ id: string; key: string; isNew: boolean }> {
    const known = isKey(key) && (await this.db.models.Guest.findOne({ where: { key: this.#hash(key!) } }));
    if (known) return { id: known.id, key: key!, isNew: false };
    const made = { id: randomUUID(), key: randomBytes(24).toString("base64url"), isNew: true };
    await this.db.models.Guest.create({ id: made.id, key: this.#hash(made.key) });
    return made;
  }

  async #inviteOf(
    recordingId: string,
    member: SignedIn | null,
    key: string | null,
    transaction: Transaction,
  ): Promise<string | null> {
    const [row] = await this.db.rows<{ id: string }>(
      INVITE_OF,
      [recordingId, key ?? "", member?.id ?? null],
      transaction,
    );
    return row?.id ?? null;
  }

  #hash(key: string): Buffer {
    return createHmac("sha256", this.secret).update(`guest ${key}`).digest();
  }
}

const isKey = (key: string | null) => key !== null && /^[\w-]{20,60}$/.test(key);
