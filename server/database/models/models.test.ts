import type { Model, ModelStatic } from "sequelize";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { freshRuntime } from "../../../testing/server";
import type { Runtime } from "../../runtime";

let runtime: Runtime;
let models: ModelStatic<Model>[];
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  models = Object.values(runtime.db.models) as unknown as ModelStatic<Model>[];
});
afterAll(() => runtime.close());

/** Columns that only statements use: they have no counterpart in code. */
const ONLY_IN_SQL = new Set([
  ...["recordings.owed", "recordings.arrived_at", "spans.made"],
  ...["hash", "email", "made_at", "ends_at"].map((column) => `starts.${column}`),
  ...["workspace_id", "person_id", "at"].map((column) => `removed_members.${column}`),
]);
/** What the database is at itself, and what a package keeps of its own. */
const OTHERS = new Set(["migrations", "functions_in_force", "sign_in_attempts"]);

it("names every table and every column of it", async () => {
  const rows = await runtime.db.rows<{ table: string; column: string }>(
    `select c.table_name as table, c.column_name as column
       from information_schema.columns c join information_schema.tables t using (table_schema, table_name)
      where c.table_schema = 'public' and t.table_type = 'BASE TABLE'`,
  );
  const made = rows.filter((r) => !OTHERS.has(r.table)).map((r) => `${r.table}.${r.column}`);
  const named = models.flatMap((model) =>
    Object.values(model.getAttributes()).map((a) => `${String(model.getTableName())}.${a.field}`),
  );
  expect(named.sort()).toEqual(made.filter((name) => !ONLY_IN_SQL.has(name)).sort());
});

it("can read a row of every table", async () => {
  for (const model of models) await model.findOne();
});
