import { createHash } from "node:crypto";
import type { Sequelize, Transaction } from "sequelize";
import { course } from "./course";
import { hooks } from "./hooks";
import { inbox } from "./inbox";
import { owed } from "./owed";
import { said } from "./said";
import { shelved } from "./shelved";

/** All functions and triggers of the database. Those that others call come first. */
const IN_FORCE = [inbox, said, owed, shelved, course, hooks].join("\n");
const DIGEST = createHash("sha256").update(IN_FORCE).digest("hex");

const NAMES = [...IN_FORCE.matchAll(/^create function (\w+)/gm)].map(([, name]) => name!);

/** Of functions $1 those that are there, as they are called where they are dropped. */
const THERE = /* sql */ `
select oid::regprocedure::text as called from pg_proc
 where pronamespace = current_schema()::regnamespace and proname = any($1::text[])`;

/**
 * Puts these functions and triggers in force, where others are: migrations change tables alone. What an earlier version
 * has put there goes, with the triggers that call it; functions of others stay. A process of an earlier version that
 * starts later puts its own in force again, until one of this version starts.
 */
export async function putInForce(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const ask = async <T>(sql: string, bind: unknown[] = []) =>
    (await sequelize.query(sql, { ...(bind.length > 0 && { bind }), transaction }))[0] as T[];
  const [before] = await ask<{ digest: string; names: string[] }>("select digest, names from functions_in_force");
  if (before?.digest === DIGEST) return;
  const ours = [...new Set([...NAMES, ...(before?.names ?? [])])];
  for (const { called } of await ask<{ called: string }>(THERE, [ours])) await ask(`drop function ${called} cascade`);
  await ask(IN_FORCE);
  await ask("delete from functions_in_force");
  await ask("insert into functions_in_force (digest, names) values ($1, $2)", [DIGEST, NAMES]);
}
