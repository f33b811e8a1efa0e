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

/** Those that are there, with the triggers that call them; what belongs to an extension stays. */
const DROP_ALL = /* sql */ `
do $$
declare
  one regprocedure;
begin
  for one in select p.oid from pg_proc p
              where p.pronamespace = current_schema()::regnamespace
                and not exists (select from pg_depend d where d.objid = p.oid and d.deptype = 'e')
  loop
    execute format('drop function %s cascade', one);
  end loop;
end $$`;

/**
 * Puts these functions and triggers in force, where others are: migrations change tables alone. A process of an earlier
 * version that starts later puts its own in force again, until one of this version starts.
 */
export async function putInForce(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const [rows] = await sequelize.query("select digest from functions_in_force", { transaction });
  if ((rows as { digest: string }[])[0]?.digest === DIGEST) return;
  await sequelize.query(DROP_ALL, { transaction });
  await sequelize.query(IN_FORCE, { transaction });
  await sequelize.query("delete from functions_in_force", { transaction });
  await sequelize.query("insert into functions_in_force (digest) values ($1)", { bind: [DIGEST], transaction });
}
