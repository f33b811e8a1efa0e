import { createHmac, randomBytes, randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { may, type Subject } from "#core/access/access";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Events } from "../live/events";
import { INVITE_OF, MEET_GUEST, NAME_BY_FOLDER, NAME_BY_INVITE, viewer, visit } from "./sql";

/** Whoever opens a link: a member, or a browser with its guest cookie. */
export interface Who {
  member: SignedIn | null;
  guestKey: string | null;
  /** the same person for `core/access`, with what their browser shows; where it shows nothing, the member */
  subject?: Subject;
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
  /** they are to give a name before they say something */
  needsName: boolean;
  mayComment: boolean;
}

/** Who asks, for `core/access`. */
export const subjectOf = ({ subject, member }: Who): Subject => subject ?? member;

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
    if (guest && named) await this.#nameByFolder(guest.id, recording, who);
    await this.events.share(recording.id, async (transaction) => {
      const inviteId = await this.#inviteOf(recording.id, who, invite, transaction);
      const [row] = await this.db.rows<{ isNew: boolean }>(
        visit(who.member ? "person" : "guest"),
        [randomUUID(), recording.id, who.member?.id ?? null, recording.ownerId, guest?.id ?? null, inviteId, named],
        transaction,
      );
      if (guest && named && inviteId) await this.db.rows(NAME_BY_INVITE, [guest.id, inviteId], transaction);
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
  async find(recording: KnownRecording, who: Who): Promise<Viewer | null> {
    const { member, guestKey } = who;
    if (!member && !isKey(guestKey)) return null;
    const [row] = await this.db.rows<{ id: string; number: number; guestName: string | null; named: boolean }>(
      viewer(member ? "person" : "guest"),
      [recording.id, member ? member.id : this.#hash(guestKey!)],
    );
    if (!row) return null;
    const name = member?.name ?? row.guestName;
    return {
      id: row.id,
      number: row.number,
      named: row.named,
      name,
      needsName: recording.asksNames && !name,
      mayComment: may(subjectOf(who), "comment", recording, Date.now()),
      isSender: member?.id === recording.ownerId,
      isMember: member !== null,
    };
  }

  /** A guest's name, for everything this browser says from now on and has said before. */
  async nameGuest(guestKey: string | null, name: string): Promise<void> {
    if (isKey(guestKey)) await this.db.models.Guest.update({ name }, { where: { key: this.#hash(guestKey!) } });
  }

  async #guest(said: string | null): Promise<{ id: string; key: string; isNew: boolean }> {
    // A browser may have been given its key before it is met.
    const key = isKey(said) ? said! : newGuestKey();
    const [row] = await this.db.rows<{ id: string; isNew: boolean }>(MEET_GUEST, [randomUUID(), this.#hash(key)]);
    return { ...row!, key };
  }

  /** Whoever has come by a personal link of the folder is known by it, until they say another name. */
  async #nameByFolder(guestId: string, { folder }: KnownRecording, who: Who): Promise<void> {
    const pass = subjectOf(who)?.passes?.find(({ by, of }) => by === "folder" && folder.passes.has(of));
    if (pass) await this.db.rows(NAME_BY_FOLDER, [guestId, pass.of]);
  }

  async #inviteOf(recordingId: string, who: Who, key: string | null, transaction: Transaction): Promise<string | null> {
    const { member } = who;
    const shown = (subjectOf(who)?.passes ?? []).filter((pass) => pass.by === "invite" && pass.to === recordingId);
    // A class that comes by an open link shows nothing by which one could be asked.
    if (!key && !member && shown.length === 0) return null;
    const [row] = await this.db.rows<{ id: string }>(
      INVITE_OF,
      [recordingId, key ?? "", member?.id ?? null, shown.map((pass) => pass.of)],
      transaction,
    );
    return row?.id ?? null;
  }

  #hash(key: string): Buffer {
    return createHmac("sha256", this.secret).update(`guest ${key}`).digest();
  }
}

/** What a browser without an account keeps, to be known again. */
export const newGuestKey = (): string => randomBytes(24).toString("base64url");

const isKey = (key: string | null) => key !== null && /^[\w-]{20,60}$/.test(key);
