import type { InitInfo } from "#core/media/init";
import type { TakeSource, TrackKind, TrackName } from "#core/media/tracks";
import type { Audience, MemberRole } from "#core/access/access";
import type { Recipe } from "#core/recipe/recipe";
import type { Micros } from "#core/time/micros";
import {
  DataTypes,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
  type Sequelize,
} from "sequelize";

type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>;

export interface Workspace extends Row<Workspace> {
  id: string;
  name: string;
  createdAt: CreationOptional<Date>;
}

/** Somebody with an account. */
export interface Person extends Row<Person> {
  id: string;
  name: string;
  email: string;
  passwordHash: string;
  createdAt: CreationOptional<Date>;
}

/** A person in a workspace. */
export interface Member extends Row<Member> {
  workspaceId: string;
  personId: string;
  role: MemberRole;
  joinedAt: CreationOptional<Date>;
}

export interface JoinLink extends Row<JoinLink> {
  id: string;
  workspaceId: string;
  role: MemberRole;
  token: string;
  madeBy: string | null;
  madeAt: CreationOptional<Date>;
  endsAt: Date;
  closedAt: CreationOptional<Date | null>;
}

export interface Session extends Row<Session> {
  id: Buffer;
  personId: string;
  /** the workspace that it looks at; null for the person's first */
  workspaceId: CreationOptional<string | null>;
  createdAt: CreationOptional<Date>;
  expiresAt: Date;
}

export interface Recording extends Row<Recording> {
  id: string;
  workspaceId: string;
  ownerId: string;
  title: string;
  titleVersion: CreationOptional<number>;
  token: string;
  audience: CreationOptional<Audience>;
  posterKey: CreationOptional<string | null>;
  durationUs: CreationOptional<Micros>;
  createdAt: CreationOptional<Date>;
  deletedAt: CreationOptional<Date | null>;
}

/** How many segments each track has, by the names of the tracks. */
export type Expected = Record<string, number>;

export interface Take extends Row<Take> {
  id: string;
  recordingId: string;
  position: number;
  source: TakeSource;
  state: CreationOptional<"recording" | "uploading" | "complete">;
  /** null until it is complete */
  durationUs: CreationOptional<Micros | null>;
  paused: CreationOptional<boolean>;
  expected: CreationOptional<Expected | null>;
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

export interface Models {
  Workspace: ModelStatic<Workspace>;
  Person: ModelStatic<Person>;
  Member: ModelStatic<Member>;
  JoinLink: ModelStatic<JoinLink>;
  Session: ModelStatic<Session>;
  Recording: ModelStatic<Recording>;
  Take: ModelStatic<Take>;
  Track: ModelStatic<Track>;
  Revision: ModelStatic<Revision>;
}

/**
 * The tables are made by the migrations; here they get their names in code.
 * Segments have no model: they are written and read by the thousand, in plain SQL.
 */
export function defineModels(sequelize: Sequelize): Models {
  const { UUID, TEXT, DATE, BLOB, BIGINT, BOOLEAN, INTEGER, JSONB } = DataTypes;
  const id = { type: UUID, primaryKey: true };
  return {
    Workspace: sequelize.define<Workspace>("workspace", { id, name: TEXT, createdAt: DATE }),
    Person: sequelize.define<Person>("person", { id, name: TEXT, email: TEXT, passwordHash: TEXT, createdAt: DATE }),
    Member: sequelize.define<Member>("member", {
      workspaceId: { type: UUID, primaryKey: true },
      personId: { type: UUID, primaryKey: true },
      role: TEXT,
      joinedAt: DATE,
    }),
    JoinLink: sequelize.define<JoinLink>("join_link", {
      id,
      workspaceId: UUID,
      role: TEXT,
      token: TEXT,
      madeBy: UUID,
      madeAt: DATE,
      endsAt: DATE,
      closedAt: DATE,
    }),
    Session: sequelize.define<Session>("session", {
      id: { type: BLOB, primaryKey: true },
      personId: UUID,
      workspaceId: UUID,
      createdAt: DATE,
      expiresAt: DATE,
    }),
    Recording: sequelize.define<Recording>("recording", {
      id,
      workspaceId: UUID,
      ownerId: UUID,
      title: TEXT,
      titleVersion: INTEGER,
      token: TEXT,
      audience: TEXT,
      posterKey: TEXT,
      durationUs: BIGINT,
      createdAt: DATE,
      deletedAt: DATE,
    }),
    Take: sequelize.define<Take>("take", {
      id,
      recordingId: UUID,
      position: INTEGER,
      source: TEXT,
      state: TEXT,
      durationUs: BIGINT,
      paused: BOOLEAN,
      expected: JSONB,
      startedAt: DATE,
      heardAt: DATE,
    }),
    Track: sequelize.define<Track>("track", {
      id,
      takeId: UUID,
      name: TEXT,
      kind: TEXT,
      initKey: TEXT,
      initDigest: BLOB,
      init: JSONB,
    }),
    Revision: sequelize.define<Revision>("revision", {
      id,
      recordingId: UUID,
      number: INTEGER,
      recipe: JSONB,
      grows: UUID,
      growsFromUs: BIGINT,
      closedUs: BIGINT,
      publishedAt: DATE,
    }),
  };
}
