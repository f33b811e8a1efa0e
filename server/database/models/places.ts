import type { PlaceKind, SeenBy, SendingState } from "#core/places/kinds";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** An outside place to which the films of a workspace can be sent. */
export interface Place extends Row<Place> {
  id: string;
  workspaceId: string;
  kind: PlaceKind;
  name: string;
  address: string;
  account: CreationOptional<string>;
  /** sealed */
  secret: Buffer;
  /** in the workspace's own order, from 0 */
  position: number;
  madeAt: CreationOptional<Date>;
}

/** A film at a place, or on its way there. */
export interface Sending extends Row<Sending> {
  id: string;
  recordingId: string;
  /** null where the place was given up since */
  placeId: CreationOptional<string | null>;
  placeName: string;
  state: CreationOptional<SendingState>;
  /** bytes that are there, of so many */
  done: CreationOptional<number>;
  size: CreationOptional<number>;
  /** what it is called there, where it is watched, and where an upload goes on */
  remote: CreationOptional<string | null>;
  link: CreationOptional<string | null>;
  resume: CreationOptional<string | null>;
  /** of which file */
  resumeKey: CreationOptional<string | null>;
  /** the number of the revision that is there */
  revision: CreationOptional<number | null>;
  /** and of the one that is on its way */
  coming: CreationOptional<number | null>;
  problem: CreationOptional<string | null>;
  seenBy: CreationOptional<SeenBy>;
  /** what is said of it, counted as it changes; and how much of that the place was told */
  aboutVersion: CreationOptional<number>;
  toldVersion: CreationOptional<number>;
  tries: CreationOptional<number>;
  askedAt: CreationOptional<Date>;
}

export function definePlaces(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BIGINT, BLOB, INTEGER } = DataTypes;
  return {
    Place: sequelize.define<Place>("place", {
      id: key(UUID),
      workspaceId: UUID,
      kind: TEXT,
      name: TEXT,
      address: TEXT,
      account: TEXT,
      secret: BLOB,
      position: INTEGER,
      madeAt: DATE,
    }),
    Sending: sequelize.define<Sending>("sending", {
      id: key(UUID),
      recordingId: UUID,
      placeId: UUID,
      placeName: TEXT,
      state: TEXT,
      done: BIGINT,
      size: BIGINT,
      remote: TEXT,
      link: TEXT,
      resume: TEXT,
      resumeKey: TEXT,
      revision: INTEGER,
      coming: INTEGER,
      problem: TEXT,
      seenBy: TEXT,
      aboutVersion: INTEGER,
      toldVersion: INTEGER,
      tries: INTEGER,
      askedAt: DATE,
    }),
  };
}
