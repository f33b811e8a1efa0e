import { execFileSync } from "node:child_process";
import pg from "pg";
import { afterEach, beforeEach, expect, inject, it } from "vitest";
import { databaseUrlOf, freshRuntime } from "../../../testing/server";
import type { Runtime } from "../../runtime";
import { openDatabase } from "../connection";

let runtime: Runtime;
let client: pg.Client;
beforeEach(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  client = new pg.Client({ connectionString: databaseUrlOf(runtime) });
  await client.connect();
});
afterEach(async () => {
  await client.end();
  await runtime.close();
});

/** The tables, indexes, functions and triggers of the database, as PostgreSQL's own program tells them. */
function schema(): string {
  const options = ["--schema-only", "--schema=public", "--no-owner", "--no-privileges"];
  const told = execFileSync("pg_dump", [...options, databaseUrlOf(runtime)], { maxBuffer: 1 << 26 }).toString();
  // What says by which version it was told, and how its reader is to be set.
  const kept = told
    .split("\n")
    .filter((line) => !/^(--|SET |SELECT pg_catalog|\\|CREATE SCHEMA|COMMENT ON SCHEMA)/.test(line));
  return `${kept
    .join("\n")
    .replace(/\n{3,}/g, "\n\n")
    .trim()}\n`;
}

it("and all tables are those that stand in schema.sql", async () => {
  // After a change: `npx vitest run server/database/functions -u`, and read what changed.
  await expect(schema()).toMatchFileSnapshot("../schema.sql");
});

it("of another version are taken out, and ours put in force", async () => {
  const before = schema();
  await client.query("create function left_over() returns trigger language plpgsql as 'begin return null; end'");
  await client.query("create trigger left_over after insert on takes for each row execute function left_over()");
  await client.query("drop function refresh_owed");
  await client.query(
    "create or replace function wants(person uuid, what text) returns boolean language sql as 'select true'",
  );
  const open = async () => (await openDatabase(databaseUrlOf(runtime))).close();
  // Nobody looks where they are said to be ours.
  await open();
  expect(schema()).toContain("left_over");
  await client.query(
    "update functions_in_force set digest = 'of another version', names = array_append(names, 'left_over')",
  );
  await Promise.all([open(), open()]);
  expect(schema()).toBe(before);
});

it("of others stay, and of extensions", async () => {
  await client.query("create function of_another_program() returns int language sql as 'select 7'");
  await client.query("create extension if not exists citext schema public");
  await client.query("delete from functions_in_force");
  await (await openDatabase(databaseUrlOf(runtime))).close();
  expect((await client.query("select 'A'::citext = 'a' as same")).rows).toEqual([{ same: true }]);
  expect((await client.query("select of_another_program() as said")).rows).toEqual([{ said: 7 }]);
});
