import type { History } from "#core/recipe/history";
import type { PictureChange } from "#core/media/picture-changes";
import type { SUPPRESSED } from "#core/media/tracks";
import type { Gained } from "#core/recipe/dress";
import type { Recipe } from "#core/recipe/recipe";
import type { Measured, Pictures } from "../../editing/look";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** Which part of which segment a segment with a number below 0 is. */
export interface Edge extends Row<Edge> {
  trackId: string;
  ofNumber: number;
  /** ticks of the track, from the beginning of its take */
  fromTick: number;
  toTick: number;
  number: number;
  /** nothing is heard in it */
  silent: CreationOptional<boolean>;
}

/** What a recording is to show next, or has been asked to show last. */
export interface Publication extends Row<Publication> {
  recordingId: string;
  id: string;
  /** the number of the revision that whoever wants it has seen */
  seen: number;
  /** nobody has asked for it: what somebody asks for takes its place */
  byItself: CreationOptional<boolean>;
  recipe: Recipe;
  state: "waiting" | "published" | "failed";
  /** edges that are made, of so many */
  done: CreationOptional<number>;
  wanted: CreationOptional<number>;
  problem: CreationOptional<string | null>;
  askedAt: CreationOptional<Date>;
}

/** An edit that is worked on. */
export interface Draft extends Row<Draft> {
  recordingId: string;
  /** counts what was saved of it */
  version: number;
  /** the number of the revision that it changes */
  seen: number;
  history: History;
  /** the window that saved it last, and which of its saves that was */
  savedBy: CreationOptional<string | null>;
  savedNth: CreationOptional<number>;
  savedAt: CreationOptional<Date>;
}

/** A picture that an owner has sent for a recording. */
export interface Picture extends Row<Picture> {
  id: string;
  recordingId: string;
  width: number;
  height: number;
  bytes: Buffer;
  madeAt: CreationOptional<Date>;
}

/** A recording as one file: the last one that was asked for. */
export interface Film extends Row<Film> {
  recordingId: string;
  id: string;
  /** the number of the revision that it shows */
  revision: number;
  state: CreationOptional<"waiting" | "ready" | "failed">;
  /** how far it is, of so much */
  done: CreationOptional<number>;
  wanted: CreationOptional<number>;
  problem: CreationOptional<string | null>;
  /** what is stored, and its bytes; null until it is ready */
  key: CreationOptional<string | null>;
  size: CreationOptional<number | null>;
  /** what the words that it holds are told by */
  words: CreationOptional<string | null>;
  askedAt: CreationOptional<Date>;
  madeAt: CreationOptional<Date | null>;
}

/** What a take looks and sounds like. */
export interface Look extends Row<Look> {
  takeId: string;
  /** levels in dBFS, a signed byte for each fiftieth of a second */
  voice: Buffer | null;
  sound: Buffer | null;
  measured: CreationOptional<Partial<Record<Gained | typeof SUPPRESSED, Measured>>>;
  /** what stands where in the strip, which is a JPEG */
  pictures: Pictures | null;
  strip: Buffer | null;
  /** where its screen becomes another one; null where it has none, or was looked over before this was told */
  changes: CreationOptional<PictureChange[] | null>;
}

export function defineEditing(sequelize: Sequelize) {
  const { BOOLEAN, UUID, TEXT, DATE, BIGINT, BLOB, INTEGER, JSONB } = DataTypes;
  return {
    Edge: sequelize.define<Edge>("edge", {
      trackId: key(UUID),
      ofNumber: key(INTEGER),
      fromTick: key(BIGINT),
      toTick: key(BIGINT),
      number: INTEGER,
      silent: key(BOOLEAN),
    }),
    Publication: sequelize.define<Publication>("publication", {
      recordingId: key(UUID),
      id: UUID,
      seen: INTEGER,
      byItself: BOOLEAN,
      recipe: JSONB,
      state: TEXT,
      done: INTEGER,
      wanted: INTEGER,
      problem: TEXT,
      askedAt: DATE,
    }),
    Draft: sequelize.define<Draft>("draft", {
      recordingId: key(UUID),
      version: INTEGER,
      seen: INTEGER,
      history: JSONB,
      savedBy: UUID,
      savedNth: INTEGER,
      savedAt: DATE,
    }),
    Look: sequelize.define<Look>("look", {
      takeId: key(UUID),
      voice: BLOB,
      sound: BLOB,
      measured: JSONB,
      pictures: JSONB,
      strip: BLOB,
      changes: JSONB,
    }),
    Film: sequelize.define<Film>("film", {
      recordingId: key(UUID),
      id: UUID,
      revision: INTEGER,
      state: TEXT,
      done: INTEGER,
      wanted: INTEGER,
      problem: TEXT,
      key: TEXT,
      size: BIGINT,
      words: TEXT,
      askedAt: DATE,
      madeAt: DATE,
    }),
    Picture: sequelize.define<Picture>("picture", {
      id: key(UUID),
      recordingId: UUID,
      width: INTEGER,
      height: INTEGER,
      bytes: BLOB,
      madeAt: DATE,
    }),
  };
}
