import type { MemberRole } from "#core/access/access";
import type { Wishes } from "#core/desk/wishes";
import type { Micros } from "#core/time/micros";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

export interface Workspace extends Row<Workspace> {
  id: string;
  name: string;
  createdAt: CreationOptional<Date>;
  /** null where there is no limit */
  longestTakeUs: CreationOptional<Micros | null>;
  storageBytes: CreationOptional<number | null>;
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

/** What somebody keeps of how they record. */
export interface SetUp extends Row<SetUp> {
  id: string;
  personId: string;
  name: string;
  wishes: Wishes;
  isFirst: boolean;
}

export function definePeople(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BLOB, BIGINT, BOOLEAN, JSONB } = DataTypes;
  return {
    Workspace: sequelize.define<Workspace>("workspace", {
      id: key(UUID),
      name: TEXT,
      createdAt: DATE,
      longestTakeUs: BIGINT,
      storageBytes: BIGINT,
    }),
    SetUp: sequelize.define<SetUp>("set_up", {
      id: key(UUID),
      personId: UUID,
      name: TEXT,
      wishes: JSONB,
      isFirst: BOOLEAN,
    }),
    Person: sequelize.define<Person>("person", {
      id: key(UUID),
      name: TEXT,
      email: TEXT,
      passwordHash: TEXT,
      createdAt: DATE,
    }),
    Member: sequelize.define<Member>("member", {
      workspaceId: key(UUID),
      personId: key(UUID),
      role: TEXT,
      joinedAt: DATE,
    }),
    JoinLink: sequelize.define<JoinLink>("join_link", {
      id: key(UUID),
      workspaceId: UUID,
      role: TEXT,
      token: TEXT,
      madeBy: UUID,
      madeAt: DATE,
      endsAt: DATE,
      closedAt: DATE,
    }),
    Session: sequelize.define<Session>("session", {
      id: key(BLOB),
      personId: UUID,
      workspaceId: UUID,
      createdAt: DATE,
      expiresAt: DATE,
    }),
  };
}
