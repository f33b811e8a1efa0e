import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { join, resolve } from "node:path";
import Joi from "joi";
import { readS3Url } from "./storage/s3-url";
import { addressReader, isLoopback, type TrustProxy } from "./http/address";

export const ROLES = ["all", "web", "worker"] as const;
export type Role = (typeof ROLES)[number];

/** What can be set from outside. The README has the same table. */
export interface Settings {
  port: number;
  dataDir: string;
  /** null: start an own PostgreSQL under `dataDir` */
  databaseUrl: string | null;
  /**
   * where `databaseUrl` leads to a pooler that lends connections for a transaction only: the way past it, for the one
   * connection that listens. null where it leads to the database itself
   */
  databaseDirectUrl: string | null;
  /** connections that this process keeps to it for requests, besides four for jobs and one that listens */
  databaseConnections: number;
  storageUrl: string;
  publicUrl: string;
  sessionSecret: string;
  logLevel: string;
  /** what this process does: answer requests, do the jobs, or both */
  role: Role;
  /** where a process that does jobs alone tells whether it is ready; null for nowhere */
  healthPort: number | null;
  /** what whoever asks for `/metrics` has to show; null: nobody may */
  metricsToken: string | null;
  /** the address to listen on; null for all of this computer's */
  host: string | null;
  /** which proxies are believed about where a request comes from */
  trustProxy: TrustProxy;
  /** `smtp://` or `smtps://`; null keeps mail here, to be looked at in the sample */
  mailUrl: string | null;
  /** the address that mail comes from */
  mailFrom: string;
  /** load the sample practice into an empty database, and let anybody sign in as its people */
  demo: boolean;
  /** may anybody start a workspace, or only join one by a link? The first account can be made in any case */
  signUp: "open" | "invited";
  /** where the page of a course of the sample is, which is another site; on this computer alone */
  coursePort: number;
  /** and the channel to which recordings can be sent */
  channelPort: number;
}

/** A setting is wrong. The message names it and says what is expected. */
export class SettingsError extends Error {}

const schema = Joi.object({
  PORT: Joi.number().port().default(5180),
  DATA_DIR: Joi.string().default(".data"),
  DATABASE_URL: Joi.string().uri({ scheme: ["postgres", "postgresql"] }),
  DATABASE_DIRECT_URL: Joi.string().uri({ scheme: ["postgres", "postgresql"] }),
  DATABASE_CONNECTIONS: Joi.number().integer().min(2).max(200).default(12),
  STORAGE_URL: Joi.string()
    .pattern(/^(?:file|s3):/, "file: or s3: address")
    .custom((value: string) => {
      if (value.startsWith("s3:")) readS3Url(value);
      return value;
    }),
  PUBLIC_URL: Joi.string().uri({ scheme: ["http", "https"] }),
  SESSION_SECRET: Joi.string().min(32),
  HOST: Joi.string().max(255),
  TRUST_PROXY: Joi.string().max(500),
  MAIL_URL: Joi.string().uri({ scheme: ["smtp", "smtps"] }),
  MAIL_FROM: Joi.string().email({ tlds: false }).default("clear-nod@localhost.localdomain"),
  ROLE: Joi.string()
    .valid(...ROLES)
    .default("all"),
  HEALTH_PORT: Joi.number().port(),
  METRICS_TOKEN: Joi.string().min(16).max(200),
  COURSE_PORT: Joi.number().port(),
  CHANNEL_PORT: Joi.number().port(),
  DEMO: Joi.string().valid("on", "off"),
  SIGN_UP: Joi.string().valid("open", "invited").default("open"),
  LOG_LEVEL: Joi.string().valid("debug", "info", "warn", "error", "silent").default("info"),
}).options({ abortEarly: false, stripUnknown: true });

/**
 * Reads the settings, and makes what may be absent: the data directory and the session secret in it.
 * @throws {SettingsError} if a value cannot be used
 */
export function readSettings(env: Record<string, string | undefined>): Settings {
  const given = Object.fromEntries(Object.entries(env).filter(([, v]) => v !== ""));
  const { value, error } = schema.validate(given);
  if (error)
    throw new SettingsError(`Settings: ${error.details.map((d) => d.message).join("; ")}. See the table in README.md.`);
  const dataDir = resolve(value.DATA_DIR as string);
  makeDirectory(dataDir);
  const publicUrl = ((value.PUBLIC_URL as string | undefined) ?? `http://localhost:${value.PORT}`).replace(/\/+$/, "");
  const demo = isDemo(value as Pick<Given, "DEMO" | "HOST">, publicUrl);
  return {
    port: value.PORT as number,
    dataDir,
    databaseUrl: (value.DATABASE_URL as string | undefined) ?? null,
    databaseDirectUrl: (value.DATABASE_DIRECT_URL as string | undefined) ?? null,
    databaseConnections: value.DATABASE_CONNECTIONS as number,
    storageUrl: (value.STORAGE_URL as string | undefined) ?? `file:${join(dataDir, "media")}`,
    publicUrl,
    sessionSecret: (value.SESSION_SECRET as string | undefined) ?? keptSecret(join(dataDir, "session-secret")),
    logLevel: value.LOG_LEVEL as string,
    role: value.ROLE as Role,
    healthPort: (value.HEALTH_PORT as number | undefined) ?? null,
    metricsToken: (value.METRICS_TOKEN as string | undefined) ?? null,
    host: (value.HOST as string | undefined) ?? (demo ? "127.0.0.1" : null),
    trustProxy: trustOf(value.TRUST_PROXY as string | undefined),
    mailUrl: (value.MAIL_URL as string | undefined) ?? null,
    mailFrom: value.MAIL_FROM as string,
    demo,
    signUp: value.SIGN_UP as Settings["signUp"],
    coursePort: (value.COURSE_PORT as number | undefined) ?? besides(value.PORT as number, 1),
    channelPort: (value.CHANNEL_PORT as number | undefined) ?? besides(value.PORT as number, 2),
  };
}

const besides = (port: number, by: number) => (port + by <= 65_535 ? port + by : port - by);

type Given = Record<"DEMO" | "HOST", string | undefined>;

/**
 * The sample lets anybody sign in as its people, and lets them ask this computer: it is for this computer alone, and
 * behind no proxy that others can reach. Without a word about it, it is there where nobody else can be.
 */
function isDemo({ DEMO, HOST }: Given, publicUrl: string): boolean {
  if (DEMO === "off") return false;
  const elsewhere = [
    ...(HOST === undefined || isLoopback(HOST) ? [] : [`HOST (${HOST})`]),
    ...(isLoopback(new URL(publicUrl).hostname) ? [] : [`PUBLIC_URL (${publicUrl})`]),
  ];
  if (elsewhere.length === 0) return true;
  if (DEMO === undefined) return false;
  throw new SettingsError(
    `Settings: with DEMO=on anybody can sign in as the people of the sample, so it is for this computer only. Set DEMO=off, or leave ${elsewhere.join(" and ")} out.`,
  );
}

function trustOf(text: string | undefined): TrustProxy {
  if (text === undefined) return 0;
  if (/^\d$/.test(text)) return Number(text);
  const networks = text.split(",").map((network) => network.trim());
  try {
    addressReader(networks);
  } catch (cause) {
    throw new SettingsError(`Settings: TRUST_PROXY names no networks: ${(cause as Error).message}.`, { cause });
  }
  return networks;
}

/** A random secret that is made once and kept, readable by its owner only. */
export function keptSecret(file: string): string {
  if (existsSync(file)) {
    const kept = readFileSync(file, "utf8").trim();
    if (kept.length >= 32) return kept;
  }
  const secret = randomBytes(32).toString("base64url");
  // Whole or not at all: half a secret would sign nobody in.
  writeFileSync(`${file}.half`, secret + "\n", { mode: 0o600 });
  renameSync(`${file}.half`, file);
  return secret;
}

function makeDirectory(dir: string) {
  try {
    mkdirSync(dir, { recursive: true });
    const probe = join(dir, ".writable");
    writeFileSync(probe, "");
  } catch (cause) {
    const code = (cause as NodeJS.ErrnoException).code;
    const why =
      code === "ENOSPC"
        ? "the disk is full"
        : code === "EACCES" || code === "EPERM"
          ? "this user may not write there"
          : String(code);
    throw new SettingsError(
      `The data directory ${dir} cannot be used: ${why}. Free it, or set DATA_DIR to another place.`,
      { cause },
    );
  }
}
