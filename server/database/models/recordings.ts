import type { Suppressing } from "#core/audio/suppressing";
import type { Audience } from "#core/access/access";
import type { Entry as ToldEntry } from "#core/layout/entry";
import type { InitInfo } from "#core/media/init";
import type { TakeSource, TrackKind, TrackName } from "#core/media/tracks";
import type { Recipe } from "#core/recipe/recipe";
import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Chapter } from "#core/viewing/figures";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

export interface Caption extends Range {
  text: string;
}

export interface Recording extends Row<Recording> {
  id: string;
  workspaceId: string;
  ownerId: string;
  /** where it lies; null for nowhere */
  folderId: CreationOptional<string | null>;
  title: string;
  titleVersion: CreationOptional<number>;
  token: string;
  audience: CreationOptional<Audience>;
  /** open to others from then, and until then; null for at once, and for ever */
  opensAt: CreationOptional<Date | null>;
  endsAt: CreationOptional<Date | null>;
  passwordHash: CreationOptional<string | null>;
  /** names this very password */
  passwordId: CreationOptional<string | null>;
  /** others may comment */
  comments: CreationOptional<boolean>;
  /** others may have it as a file */
  downloads: CreationOptional<boolean>;
  /** guests are asked for a name before they say something */
  asksNames: CreationOptional<boolean>;
  /** who else is seen or heard, as its sender notes it; and since when they agree */
  consentWho: CreationOptional<string>;
  agreedAt: CreationOptional<Date | null>;
  /** leads to the link; null where nobody has wanted it */
  short: CreationOptional<string | null>;
  description: CreationOptional<string>;
  tags: CreationOptional<string[]>;
  posterKey: CreationOptional<string | null>;
  /** the moment that its owner has chosen for it, on the source line */
  posterAt: CreationOptional<Micros | null>;
  /** it is a picture that its owner has sent */
  posterOwn: CreationOptional<boolean>;
  durationUs: CreationOptional<Micros>;
  chapters: CreationOptional<Chapter[]>;
  captions: CreationOptional<Caption[]>;
  createdAt: CreationOptional<Date>;
  deletedAt: CreationOptional<Date | null>;
  /** it was of use then, or later */
  usedAt: CreationOptional<Date>;
  /** it does not go, used or not */
  spared: CreationOptional<boolean>;
  /** its sender was told that it is deleted then; null where it is not to go */
  goesAt: CreationOptional<Date | null>;
}

/** How many segments each track has, by the names of the tracks. */
export type Expected = Record<string, number>;

/** A link that was given up for a new one. */
export interface OldLink extends Row<OldLink> {
  token: string;
  recordingId: string;
  replacedAt: CreationOptional<Date>;
}

export interface Take extends Row<Take> {
  id: string;
  recordingId: string;
  position: number;
  source: TakeSource;
  state: CreationOptional<"recording" | "uploading" | "complete">;
  /** null until it is complete */
  durationUs: CreationOptional<Micros | null>;
  /** what its segments hold; null until it is complete */
  bytes: CreationOptional<number | null>;
  paused: CreationOptional<boolean>;
  /** thrown away by its presenter; nothing brings it back */
  discarded: CreationOptional<boolean>;
  discardedAt: CreationOptional<Date | null>;
  expected: CreationOptional<Expected | null>;
  /** the take that its stored segments were sent for, where it was brought in from another recording */
  mediaOf: CreationOptional<string | null>;
  /** where taking the noise out of its voice stands; null where nobody has wanted it */
  suppressed: CreationOptional<Suppressing | null>;
  startedAt: CreationOptional<Date>;
  heardAt: CreationOptional<Date>;
}

export interface Track extends Row<Track> {
  id: string;
  takeId: string;
  name: TrackName;
  kind: TrackKind;
  initKey: string;
  initDigest: Buffer;
  init: InitInfo;
}

/** They come in by the thousand: in groups, by the statements of `ingest/sql.ts`. */
export interface Segment extends Row<Segment> {
  trackId: string;
  number: number;
  startUs: Micros;
  durationUs: Micros;
  frames: number;
  size: number;
  digest: Buffer;
  key: string;
  storedAt: CreationOptional<Date>;
}

/** Something that happened in a take, as it was last told; its kind tells what the body is. */
export interface Entry extends Row<Entry> {
  takeId: string;
  id: string;
  version: number;
  kind: ToldEntry["kind"];
  atUs: Micros;
  body: ToldEntry["body"];
}

export interface Revision extends Row<Revision> {
  id: string;
  recordingId: string;
  number: number;
  recipe: Recipe;
  /** the take whose rest is shown as it comes in, from where in it, and how long what is shown before that is */
  grows: string | null;
  growsFromUs: CreationOptional<Micros>;
  closedUs: CreationOptional<Micros>;
  publishedAt: CreationOptional<Date>;
}

/** A run of segments that a revision plays for one of its tracks. */
export interface Piece extends Row<Piece> {
  revisionId: string;
  track: TrackName;
  stretch: number;
  n: number;
  trackId: string;
  first: number;
  /** null while what it shows grows */
  last: number | null;
  movedUs: Micros;
}

export function defineRecordings(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BLOB, BIGINT, BOOLEAN, INTEGER, JSONB, ARRAY } = DataTypes;
  return {
    Recording: sequelize.define<Recording>("recording", {
      id: key(UUID),
      workspaceId: UUID,
      ownerId: UUID,
      folderId: UUID,
      title: TEXT,
      titleVersion: INTEGER,
      token: TEXT,
      audience: TEXT,
      opensAt: DATE,
      endsAt: DATE,
      passwordHash: TEXT,
      passwordId: UUID,
      comments: BOOLEAN,
      downloads: BOOLEAN,
      asksNames: BOOLEAN,
      consentWho: TEXT,
      agreedAt: DATE,
      short: TEXT,
      description: TEXT,
      tags: ARRAY(TEXT),
      posterKey: TEXT,
      posterAt: BIGINT,
      posterOwn: { type: DataTypes.BOOLEAN, defaultValue: false },
      durationUs: BIGINT,
      chapters: JSONB,
      captions: JSONB,
      createdAt: DATE,
      deletedAt: DATE,
      usedAt: DATE,
      spared: BOOLEAN,
      goesAt: DATE,
    }),
    OldLink: sequelize.define<OldLink>("old_link", { token: key(TEXT), recordingId: UUID, replacedAt: DATE }),
    Take: sequelize.define<Take>("take", {
      id: key(UUID),
      recordingId: UUID,
      position: INTEGER,
      source: TEXT,
      state: TEXT,
      durationUs: BIGINT,
      bytes: BIGINT,
      paused: BOOLEAN,
      discarded: BOOLEAN,
      discardedAt: DATE,
      expected: JSONB,
      mediaOf: UUID,
      suppressed: TEXT,
      startedAt: DATE,
      heardAt: DATE,
    }),
    Track: sequelize.define<Track>("track", {
      id: key(UUID),
      takeId: UUID,
      name: TEXT,
      kind: TEXT,
      initKey: TEXT,
      initDigest: BLOB,
      init: JSONB,
    }),
    Segment: sequelize.define<Segment>("segment", {
      trackId: key(UUID),
      number: key(INTEGER),
      startUs: BIGINT,
      durationUs: BIGINT,
      frames: INTEGER,
      size: INTEGER,
      digest: BLOB,
      key: TEXT,
      storedAt: DATE,
    }),
    Entry: sequelize.define<Entry>(
      "entry",
      {
        takeId: key(UUID),
        id: key(UUID),
        version: INTEGER,
        kind: TEXT,
        atUs: BIGINT,
        body: JSONB,
      },
      { tableName: "entries" },
    ),
    Revision: sequelize.define<Revision>("revision", {
      id: key(UUID),
      recordingId: UUID,
      number: INTEGER,
      recipe: JSONB,
      grows: UUID,
      growsFromUs: BIGINT,
      closedUs: BIGINT,
      publishedAt: DATE,
    }),
    Piece: sequelize.define<Piece>("piece", {
      revisionId: key(UUID),
      track: key(TEXT),
      stretch: key(INTEGER),
      n: key(INTEGER),
      trackId: UUID,
      first: INTEGER,
      last: INTEGER,
      movedUs: BIGINT,
    }),
  };
}
