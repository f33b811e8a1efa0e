import type { MemberRole, Outside } from "#core/access/access";
import type { HookKind } from "#core/api/hooks";
import type { Scope } from "#core/api/scopes";
import type { Wishes } from "#core/desk/wishes";
import type { Micros } from "#core/time/micros";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

export interface Workspace extends Row<Workspace> {
  id: string;
  name: string;
  createdAt: CreationOptional<Date>;
  /** who may share with people from outside */
  outside: CreationOptional<Outside>;
  /** the sites that may show its recordings, by their origins */
  sites: CreationOptional<string[]>;
  /** null where there is no limit */
  longestTakeUs: CreationOptional<Micros | null>;
  storageBytes: CreationOptional<number | null>;
  /** after so many days without use recordings are deleted; null for never */
  unusedDays: CreationOptional<number | null>;
  /** colours, as `#rrggbb`; null for ours */
  accent: CreationOptional<string | null>;
  bar: CreationOptional<string | null>;
}

/** The picture by which a workspace is known, as WebP. */
export interface Emblem extends Row<Emblem> {
  workspaceId: string;
  digest: string;
  width: number;
  height: number;
  bytes: Buffer;
}

/** Somebody with an account. */
export interface Person extends Row<Person> {
  id: string;
  name: string;
  email: string;
  /** since when it is known that they read its mail */
  provedAt: CreationOptional<Date | null>;
  passwordHash: string;
  createdAt: CreationOptional<Date>;
  /** when they were last mailed what is new */
  toldAt: CreationOptional<Date | null>;
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
  /** to whom it was mailed; such a link lets in one person */
  address: CreationOptional<string | null>;
  madeBy: string | null;
  madeAt: CreationOptional<Date>;
  endsAt: Date;
  closedAt: CreationOptional<Date | null>;
}

/** Something that acts for a person. */
export interface Program extends Row<Program> {
  id: string;
  personId: string;
  workspaceId: string;
  name: string;
  scopes: Scope[];
  secret: Buffer;
  madeAt: CreationOptional<Date>;
  lastAt: CreationOptional<Date | null>;
  endsAt: CreationOptional<Date | null>;
}

/** How a browser is reached without a page: its push subscription (Push API), with its keys as base64url. */
export interface PushSubscription {
  endpoint: string;
  keys: { p256dh: string; auth: string };
}

/** What stands for somebody beside their words, as WebP. */
export interface Portrait extends Row<Portrait> {
  personId: string;
  digest: string;
  bytes: Buffer;
}

/** By what somebody signs in without a password. */
export interface Passkey extends Row<Passkey> {
  /** the credential's id, base64url */
  id: string;
  personId: string;
  publicKey: Buffer;
  counter: number;
  transports: string[];
  /** the browser in which it was made */
  name: string;
  madeAt: CreationOptional<Date>;
  usedAt: CreationOptional<Date | null>;
}

/** What a passkey is to sign next, once. */
export interface Challenge extends Row<Challenge> {
  hash: Buffer;
  personId: string | null;
  endsAt: Date;
}

/** An address that is told what comes to somebody's inbox. */
export interface Hook extends Row<Hook> {
  id: string;
  personId: string;
  workspaceId: string;
  url: string;
  kinds: HookKind[];
  secret: Buffer;
  madeAt: CreationOptional<Date>;
}

/** Something that such an address is told. */
export interface Delivery extends Row<Delivery> {
  id: string;
  hookId: string;
  subject: CreationOptional<string | null>;
  at: CreationOptional<Date>;
  tries: CreationOptional<number>;
  dueAt: CreationOptional<Date | null>;
  triedAt: CreationOptional<Date | null>;
  status: CreationOptional<number | null>;
  said: CreationOptional<string | null>;
}

export interface Session extends Row<Session> {
  id: Buffer;
  personId: string;
  /** the workspace that it looks at; null for the person's first */
  workspaceId: CreationOptional<string | null>;
  createdAt: CreationOptional<Date>;
  /** when it was last used, to some minutes */
  lastAt: CreationOptional<Date>;
  /** what the browser said of itself */
  agent: CreationOptional<string>;
  /** by what it is told what is new; null where it is not */
  push: CreationOptional<PushSubscription | null>;
  expiresAt: Date;
}

/** What a letter proves for whoever has it. */
export interface Proof extends Row<Proof> {
  personId: string;
  kind: ProofKind;
  /** HMAC of what stands in its link */
  hash: Buffer;
  /** the address that it proves */
  address: string | null;
  endsAt: Date;
}
/** A new password may be set; an address is theirs. */
export type ProofKind = "reset" | "address" | "undo";

/** What somebody keeps of how they record. */
export interface SetUp extends Row<SetUp> {
  id: string;
  personId: string;
  name: string;
  wishes: Wishes;
  isFirst: boolean;
}

export function definePeople(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BLOB, BIGINT, BOOLEAN, INTEGER, JSONB } = DataTypes;
  return {
    Workspace: sequelize.define<Workspace>("workspace", {
      id: key(UUID),
      name: TEXT,
      createdAt: DATE,
      outside: TEXT,
      sites: DataTypes.ARRAY(TEXT),
      longestTakeUs: BIGINT,
      storageBytes: BIGINT,
      unusedDays: INTEGER,
      accent: TEXT,
      bar: TEXT,
    }),
    Emblem: sequelize.define<Emblem>("emblem", {
      workspaceId: key(UUID),
      digest: TEXT,
      width: DataTypes.INTEGER,
      height: DataTypes.INTEGER,
      bytes: BLOB,
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
      provedAt: DATE,
      passwordHash: TEXT,
      createdAt: DATE,
      toldAt: DATE,
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
      address: TEXT,
      madeBy: UUID,
      madeAt: DATE,
      endsAt: DATE,
      closedAt: DATE,
    }),
    Program: sequelize.define<Program>("program", {
      id: key(UUID),
      personId: UUID,
      workspaceId: UUID,
      name: TEXT,
      scopes: DataTypes.ARRAY(TEXT),
      secret: BLOB,
      madeAt: DATE,
      lastAt: DATE,
      endsAt: DATE,
    }),
    Passkey: sequelize.define<Passkey>("passkey", {
      id: key(TEXT),
      personId: UUID,
      publicKey: BLOB,
      counter: DataTypes.BIGINT,
      transports: DataTypes.ARRAY(TEXT),
      name: TEXT,
      madeAt: DATE,
      usedAt: DATE,
    }),
    Challenge: sequelize.define<Challenge>("challenge", { hash: key(BLOB), personId: UUID, endsAt: DATE }),
    Hook: sequelize.define<Hook>("hook", {
      id: key(UUID),
      personId: UUID,
      workspaceId: UUID,
      url: TEXT,
      kinds: DataTypes.ARRAY(TEXT),
      secret: BLOB,
      madeAt: DATE,
    }),
    Delivery: sequelize.define<Delivery>("delivery", {
      id: key(UUID),
      hookId: UUID,
      subject: UUID,
      at: DATE,
      tries: DataTypes.SMALLINT,
      dueAt: DATE,
      triedAt: DATE,
      status: DataTypes.SMALLINT,
      said: TEXT,
    }),
    Portrait: sequelize.define<Portrait>("portrait", { personId: key(UUID), digest: TEXT, bytes: BLOB }),
    Session: sequelize.define<Session>("session", {
      id: key(BLOB),
      personId: UUID,
      workspaceId: UUID,
      createdAt: DATE,
      lastAt: DATE,
      agent: TEXT,
      push: DataTypes.JSONB,
      expiresAt: DATE,
    }),
    Proof: sequelize.define<Proof>("proof", {
      personId: key(UUID),
      kind: key(TEXT),
      hash: BLOB,
      address: TEXT,
      endsAt: DATE,
    }),
  };
}
