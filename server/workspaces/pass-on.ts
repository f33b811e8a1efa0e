import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import { PASS_INBOX, PASS_RECORDINGS, PASS_VIEWER } from "./sql";

/** Everything that a person made in a workspace passes to another one, with what waits for its sender. */
export async function passOn(
  db: Database,
  { workspaceId, from, to }: { workspaceId: string; from: string; to: string },
  transaction: Transaction,
): Promise<void> {
  const passed = await db.rows<{ id: string }>(PASS_RECORDINGS, [workspaceId, from, to], transaction);
  if (passed.length === 0) return;
  const ids = passed.map((r) => r.id);
  await db.rows(PASS_VIEWER, [ids, from], transaction);
  await db.rows(PASS_INBOX, [ids, from, to], transaction);
}
