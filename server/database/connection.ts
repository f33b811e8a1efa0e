import pg from "pg";
import { QueryTypes, Sequelize, type BindOrReplacements, type Transaction } from "sequelize";
import { Umzug } from "umzug";
import { putInForce } from "./functions";
import { isConnectionLost } from "./lost";
import { migrations } from "./migrations";
import { defineModels, type Models } from "./models";

/** The one connection pool of a process, and its models. */
export interface Database {
  sequelize: Sequelize;
  models: Models;
  /** Rows of a query with `$1` parameters, for where SQL is clearest. */
  rows<T extends object>(sql: string, bind?: BindOrReplacements, transaction?: Transaction): Promise<T[]>;
  /** false from the first query that found no database until one finds it again */
  readonly reachable: boolean;
  close(): Promise<void>;
}

// Whole numbers of 8 bytes come as text from the driver; here all of them are counts, versions and microseconds.
pg.types.setTypeParser(pg.types.builtins.INT8, (text) => {
  const value = Number(text);
  if (!Number.isSafeInteger(value)) throw new RangeError(`${text} is too large a number to be exact`);
  return value;
});

/** How often a database that is gone is asked for. */
const KNOCK_MS = 200;

/** How each connection is set. */
const SESSION = {
  // Lists of many joins are planned as dear, and done in milliseconds: compiling them took 180 ms of 214.
  jit: "off",
  // Longer than anything takes that somebody waits for; a process that stands still holds no locks for longer.
  statement_timeout: "60s",
  idle_in_transaction_session_timeout: "60s",
};

interface Ways {
  connections?: number;
  /** past the pooler to which `url` leads; null where it leads to the database itself */
  directUrl?: string | null;
}

/** Connects and brings the tables up to date. Safe when several processes start at once. */
export async function openDatabase(url: string, { connections = 12, directUrl = null }: Ways = {}): Promise<Database> {
  if (directUrl) await setRole(directUrl);
  const sequelize = new Sequelize(url, {
    dialect: "postgres",
    logging: false,
    pool: { max: connections, min: 1, acquire: 20_000 },
    // A pooler takes none of it: there the role has it, in this database.
    ...(!directUrl && {
      dialectOptions: {
        options: Object.entries(SESSION)
          .map(([name, value]) => `-c ${name}=${value}`)
          .join(" "),
      },
    }),
    define: { underscored: true, timestamps: false },
  });
  const watch = new Reachable(() => sequelize.query("select 1"));
  // Everything goes through these two: what fails for want of a database is noticed at once, wherever it was asked for.
  for (const name of ["query", "transaction"] as const) {
    const ask = sequelize[name].bind(sequelize) as (...given: unknown[]) => Promise<unknown>;
    sequelize[name] = ((...given: unknown[]) => watch.over(ask(...given))) as never;
  }
  await migrate(sequelize);
  return {
    sequelize,
    models: defineModels(sequelize),
    rows: <T extends object>(sql: string, bind: BindOrReplacements = [], transaction?: Transaction) =>
      sequelize.query<T>(sql, { bind, type: QueryTypes.SELECT, transaction }),
    get reachable() {
      return watch.reachable;
    },
    close: () => {
      watch.close();
      return sequelize.close();
    },
  };
}

/** The role that connects has the settings of a session, in this database, whoever lends it connections. */
async function setRole(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    for (const [name, value] of Object.entries({ ...SESSION, timezone: "UTC" }))
      await client.query(
        `do $$ begin
           execute format('alter role %I in database %I set ${name} to %L', current_user, current_database(), '${value}');
         exception when internal_error then null; -- another process is just doing the same
         end $$`,
      );
  } finally {
    await client.end();
  }
}

/** Knows whether the database can be reached, and knocks while it cannot. */
class Reachable {
  reachable = true;
  #timer: NodeJS.Timeout | undefined;

  constructor(private readonly knock: () => Promise<unknown>) {}

  async over<T>(work: Promise<T>): Promise<T> {
    try {
      const result = await work;
      this.#found();
      return result;
    } catch (error) {
      if (isConnectionLost(error)) this.#lost();
      throw error;
    }
  }

  close(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
  }

  #found(): void {
    this.reachable = true;
    this.close();
  }

  #lost(): void {
    if (this.#timer) return;
    this.reachable = false;
    this.#timer = setTimeout(() => {
      this.#timer = undefined;
      // Its outcome is seen above, as with every other query.
      this.knock().catch(() => undefined);
    }, KNOCK_MS).unref();
  }
}

const MIGRATION_LOCK = 4_105_180;

async function migrate(sequelize: Sequelize): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    // Others may be at it, and a large table takes its time.
    await sequelize.query("set local statement_timeout = 0", { transaction });
    await sequelize.query(`select pg_advisory_xact_lock(${MIGRATION_LOCK})`, { transaction });
    await sequelize.query(
      "create table if not exists migrations (name text primary key, at timestamptz not null default now())",
      { transaction },
    );
    const umzug = new Umzug({
      migrations: migrations.map(({ name, sql }) => ({ name, up: () => sequelize.query(sql, { transaction }) })),
      storage: {
        executed: async () => {
          const [rows] = await sequelize.query("select name from migrations order by name", { transaction });
          return (rows as { name: string }[]).map((r) => r.name);
        },
        logMigration: async ({ name }) => {
          await sequelize.query("insert into migrations (name) values ($1)", { bind: [name], transaction });
        },
        unlogMigration: async ({ name }) => {
          await sequelize.query("delete from migrations where name = $1", { bind: [name], transaction });
        },
      },
      logger: undefined,
    });
    await umzug.up();
    await putInForce(sequelize, transaction);
  });
}
