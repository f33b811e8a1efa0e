import { QueryTypes, Sequelize, type BindOrReplacements, type Transaction } from "sequelize";
import { Umzug } from "umzug";
import { migrations } from "./migrations";
import { defineModels, type Models } from "./models";

/** The one connection pool of a process, and its models. */
export interface Database {
  sequelize: Sequelize;
  models: Models;
  /** Rows of a query with `$1` parameters, for where SQL is clearest. */
  rows<T extends object>(sql: string, bind?: BindOrReplacements, transaction?: Transaction): Promise<T[]>;
  close(): Promise<void>;
}

/** Connects and brings the tables up to date. Safe when several processes start at once. */
export async function openDatabase(url: string, log: (sql: string) => void): Promise<Database> {
  const sequelize = new Sequelize(url, {
    dialect: "postgres",
    logging: (sql) => log(sql),
    pool: { max: 12, min: 1, acquire: 20_000 },
    define: { underscored: true, timestamps: false },
  });
  await migrate(sequelize);
  return {
    sequelize,
    models: defineModels(sequelize),
    rows: <T extends object>(sql: string, bind: BindOrReplacements = [], transaction?: Transaction) =>
      sequelize.query<T>(sql, { bind, type: QueryTypes.SELECT, transaction }),
    close: () => sequelize.close(),
  };
}

const MIGRATION_LOCK = 4_105_180;

async function migrate(sequelize: Sequelize): Promise<void> {
  await sequelize.transaction(async (transaction) => {
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
  });
}
