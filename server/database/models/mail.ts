import type { MailKind, Refusal } from "#core/mail/kinds";
import type { PushWords } from "#core/notices/push";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** Something that is to be mailed, or was. */
export interface Mail extends Row<Mail> {
  id: string;
  kind: MailKind;
  toAddress: string;
  toName: string | null;
  /** who sends it, and is answered */
  sender: { name: string; address: string } | null;
  senderId: string | null;
  subject: string;
  /** null once it is sent and not kept */
  text: string | null;
  html: string | null;
  recordingId: CreationOptional<string | null>;
  inviteId: CreationOptional<string | null>;
  madeAt: CreationOptional<Date>;
  sentAt: CreationOptional<Date | null>;
  failed: CreationOptional<string | null>;
  /** since when somebody carries it */
  claimedAt: CreationOptional<Date | null>;
  /** what browsers of somebody are told instead, and whose they are; null where it is for mail alone, or over */
  push: CreationOptional<(PushWords & { personId: string }) | null>;
  /** when browsers were told, and when one of them has shown it */
  pushedAt: CreationOptional<Date | null>;
  shownAt: CreationOptional<Date | null>;
}

/** An address to which something is not mailed any more. */
export interface MailRefusal extends Row<MailRefusal> {
  address: string;
  what: Refusal;
  refusedAt: CreationOptional<Date>;
}

/** Proves that somebody reads the mail of an invite's address. */
export interface Code extends Row<Code> {
  /** what it gives */
  pass: string;
  hash: Buffer;
  endsAt: Date;
  tries: CreationOptional<number>;
}

export function defineMail(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BLOB, INTEGER, JSONB } = DataTypes;
  return {
    Mail: sequelize.define<Mail>("mail", {
      id: key(UUID),
      kind: TEXT,
      toAddress: TEXT,
      toName: TEXT,
      sender: JSONB,
      senderId: UUID,
      subject: TEXT,
      text: TEXT,
      html: TEXT,
      recordingId: UUID,
      inviteId: UUID,
      madeAt: DATE,
      sentAt: DATE,
      failed: TEXT,
      claimedAt: DATE,
      push: JSONB,
      pushedAt: DATE,
      shownAt: DATE,
    }),
    MailRefusal: sequelize.define<MailRefusal>("mail_refusal", {
      address: key(TEXT),
      what: key(TEXT),
      refusedAt: DATE,
    }),
    Code: sequelize.define<Code>("code", { pass: key(UUID), hash: BLOB, endsAt: DATE, tries: INTEGER }),
  };
}
