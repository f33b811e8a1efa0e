import type { Database } from "./connection";

/**
 * Transactions that this cluster has not come to yet are of another one, out of which this database was moved
 * (`pg_dump` and restore). What was folded up to them is folded anew, or nothing newer would ever count.
 */
const COUNT_ANEW = `
with moved as (
  delete from folds where through > pg_snapshot_xmax(pg_current_snapshot()) returning recording_id)
update spans s set made = pg_current_xact_id() from moved where s.recording_id = moved.recording_id`;

/** Makes good what a database that was moved to another cluster has kept of the old one. Costs a look at each start. */
export async function settleIn({ sequelize }: Database): Promise<void> {
  await sequelize.query(COUNT_ANEW);
}
