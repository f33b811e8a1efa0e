import type { Micros } from "#core/time/micros";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** What a viewer played. They come in by the thousand: in batches, by the statements of `viewing/sql.ts`. */
export interface Span extends Row<Span> {
  recordingId: string;
  viewerNumber: number;
  batch: string;
  n: number;
  fromUs: Micros;
  toUs: Micros;
  rate: number;
  playedAt: CreationOptional<Date>;
}

/** What the spans of a recording come to, up to a transaction, and what lists show of it. */
export interface Fold extends Row<Fold> {
  recordingId: string;
  folded: Buffer;
  /** a transaction's number, as text: numbers of 8 bytes without a sign */
  through: string;
  watched: number;
  finished: number;
  share: number;
  /** a byte for each part of the length */
  strip: Buffer;
}

/** What has happened at a recording, for pages that are open. */
export interface Event extends Row<Event> {
  id: CreationOptional<number>;
  recordingId: string;
  kind: "comment" | "reaction" | "ask" | "answer" | "viewer" | "revision";
  subject: string | null;
  senderOnly: boolean;
  at: CreationOptional<Date>;
}

/** A page that is open now, while it is renewed. */
export interface OpenPage extends Row<OpenPage> {
  id: string;
  recordingId: string;
  viewerId: string;
  renewedAt: CreationOptional<Date>;
}

/** Something that has been done to this database as a whole. */
export interface Milestone extends Row<Milestone> {
  name: string;
  at: CreationOptional<Date>;
}

export function defineViewing(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BLOB, BIGINT, BOOLEAN, INTEGER, SMALLINT, REAL } = DataTypes;
  return {
    Span: sequelize.define<Span>("span", {
      recordingId: key(UUID),
      viewerNumber: key(INTEGER),
      batch: key(UUID),
      n: key(SMALLINT),
      fromUs: BIGINT,
      toUs: BIGINT,
      rate: REAL,
      playedAt: DATE,
    }),
    Fold: sequelize.define<Fold>("fold", {
      recordingId: key(UUID),
      folded: BLOB,
      through: TEXT,
      watched: INTEGER,
      finished: INTEGER,
      share: REAL,
      strip: BLOB,
    }),
    Event: sequelize.define<Event>("event", {
      id: { type: BIGINT, primaryKey: true, autoIncrement: true },
      recordingId: UUID,
      kind: TEXT,
      subject: UUID,
      senderOnly: BOOLEAN,
      at: DATE,
    }),
    OpenPage: sequelize.define<OpenPage>("open_page", {
      id: key(UUID),
      recordingId: UUID,
      viewerId: UUID,
      renewedAt: DATE,
    }),
    Milestone: sequelize.define<Milestone>("milestone", { name: key(TEXT), at: DATE }),
  };
}
