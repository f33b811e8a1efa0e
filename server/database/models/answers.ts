import type { Answer as GivenAnswer, AskKind, ReactionKind } from "#core/answers/kinds";
import type { NoticeKind, NoticeWishes } from "#core/notices/wishes";
import type { Micros } from "#core/time/micros";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** A browser without an account. */
export interface Guest extends Row<Guest> {
  id: string;
  /** HMAC of what its cookie holds */
  key: Buffer;
  name: CreationOptional<string | null>;
  createdAt: CreationOptional<Date>;
}

/** Whom a sender asks. */
export interface Invite extends Row<Invite> {
  id: string;
  recordingId: string;
  name: string;
  email: string | null;
  personId: string | null;
  /** what stands in their personal link */
  key: string;
  /** what whoever came by it shows */
  pass: CreationOptional<string>;
  /** when it was mailed last; why that could not be delivered */
  mailedAt: CreationOptional<Date | null>;
  bounced: CreationOptional<string | null>;
  remindedAt: CreationOptional<Date | null>;
  createdAt: CreationOptional<Date>;
}

/** Somebody at one recording: a person or a guest. */
export interface Viewer extends Row<Viewer> {
  id: string;
  recordingId: string;
  /** their row in the figures; below 0 is the sender */
  number: number;
  personId: string | null;
  guestId: string | null;
  inviteId: string | null;
  named: CreationOptional<boolean>;
  firstOpenedAt: CreationOptional<Date>;
  lastOpenedAt: CreationOptional<Date>;
}

export interface Comment extends Row<Comment> {
  id: string;
  recordingId: string;
  viewerId: string;
  replyTo: CreationOptional<string | null>;
  body: string;
  version: CreationOptional<number>;
  /** of one that was read from a file: the name that the file gave */
  importedFrom: CreationOptional<string | null>;
  atUs: Micros;
  untilUs: CreationOptional<Micros | null>;
  createdAt: CreationOptional<Date>;
  editedAt: CreationOptional<Date | null>;
  resolvedAt: CreationOptional<Date | null>;
  /** taken back while others had replied: its words are gone, its place stays */
  removedAt: CreationOptional<Date | null>;
}

export interface Reaction extends Row<Reaction> {
  id: string;
  recordingId: string;
  viewerId: string;
  kind: ReactionKind;
  atUs: Micros;
  createdAt: CreationOptional<Date>;
}

export interface Ask extends Row<Ask> {
  recordingId: string;
  kind: Exclude<AskKind, "nothing">;
  question: string;
  choices: string[];
  due: CreationOptional<string | null>;
  dueEnds: CreationOptional<Date | null>;
  closed: CreationOptional<boolean>;
  version: CreationOptional<number>;
  edit: CreationOptional<number>;
  /** by itself, the day before it is needed; when that was done */
  reminds: CreationOptional<boolean>;
  remindedAt: CreationOptional<Date | null>;
}

export interface Answer extends Row<Answer> {
  id: string;
  recordingId: string;
  viewerId: string;
  answer: GivenAnswer;
  /** of the ask that it answers */
  askVersion: number;
  answeredAt: CreationOptional<Date>;
}

/** What waits for a person; triggers put it there. */
export interface InboxItem extends Row<InboxItem> {
  personId: string;
  /** the comment, answer, reaction or invitation */
  subject: string;
  kind: NoticeKind;
  recordingId: string;
  at: Date;
  readAt: Date | null;
  /** when it is looked at next whether it is to be told by mail; null for not at all */
  dueAt: CreationOptional<Date | null>;
}

/** How somebody wants to be told, where they have chosen. */
export interface NoticeWish extends Row<NoticeWish> {
  personId: string;
  mail: NoticeWishes["mail"];
  hidden: NoticeKind[];
  zone: string;
  quietFrom: number | null;
  quietUntil: number | null;
}

export function defineAnswers(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, DATEONLY, BLOB, BIGINT, BOOLEAN, INTEGER, JSONB } = DataTypes;
  return {
    Guest: sequelize.define<Guest>("guest", { id: key(UUID), key: BLOB, name: TEXT, createdAt: DATE }),
    Invite: sequelize.define<Invite>("invite", {
      id: key(UUID),
      recordingId: UUID,
      name: TEXT,
      email: TEXT,
      personId: UUID,
      key: TEXT,
      pass: { type: UUID, defaultValue: DataTypes.UUIDV4 },
      mailedAt: DATE,
      bounced: TEXT,
      remindedAt: DATE,
      createdAt: DATE,
    }),
    Viewer: sequelize.define<Viewer>("viewer", {
      id: key(UUID),
      recordingId: UUID,
      number: INTEGER,
      personId: UUID,
      guestId: UUID,
      inviteId: UUID,
      named: BOOLEAN,
      firstOpenedAt: DATE,
      lastOpenedAt: DATE,
    }),
    Comment: sequelize.define<Comment>("comment", {
      id: key(UUID),
      recordingId: UUID,
      viewerId: UUID,
      replyTo: UUID,
      body: TEXT,
      version: INTEGER,
      importedFrom: TEXT,
      atUs: BIGINT,
      untilUs: BIGINT,
      createdAt: DATE,
      editedAt: DATE,
      resolvedAt: DATE,
      removedAt: DATE,
    }),
    Reaction: sequelize.define<Reaction>("reaction", {
      id: key(UUID),
      recordingId: UUID,
      viewerId: UUID,
      kind: TEXT,
      atUs: BIGINT,
      createdAt: DATE,
    }),
    Ask: sequelize.define<Ask>("ask", {
      recordingId: key(UUID),
      kind: TEXT,
      question: TEXT,
      choices: JSONB,
      due: DATEONLY,
      dueEnds: DATE,
      closed: BOOLEAN,
      version: BIGINT,
      edit: BIGINT,
      reminds: BOOLEAN,
      remindedAt: DATE,
    }),
    Answer: sequelize.define<Answer>("answer", {
      id: key(UUID),
      recordingId: UUID,
      viewerId: UUID,
      answer: JSONB,
      askVersion: BIGINT,
      answeredAt: DATE,
    }),
    InboxItem: sequelize.define<InboxItem>(
      "inbox_item",
      {
        personId: key(UUID),
        subject: key(UUID),
        kind: TEXT,
        recordingId: UUID,
        at: DATE,
        readAt: DATE,
        dueAt: DATE,
      },
      { tableName: "inbox" },
    ),
    NoticeWish: sequelize.define<NoticeWish>("notice_wish", {
      personId: key(UUID),
      mail: JSONB,
      hidden: DataTypes.ARRAY(TEXT),
      zone: TEXT,
      quietFrom: INTEGER,
      quietUntil: INTEGER,
    }),
  };
}
