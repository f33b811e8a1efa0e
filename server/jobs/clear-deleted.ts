import { Op } from "sequelize";
import { KEPT_MS } from "#core/access/access";
import type { Database } from "../database/connection";
import type { Erase } from "../recordings/erase";

/** Removes for good what was deleted longer ago than it is kept, and sessions and codes that have ended. */
export async function clearDeleted(db: Database, erase: Erase): Promise<void> {
  const where = { deletedAt: { [Op.lt]: new Date(Date.now() - KEPT_MS) } };
  const old = await db.models.Recording.findAll({ where, attributes: ["id"], raw: true });
  for (const { id } of old) await erase(id);
  await db.models.Session.destroy({ where: { expiresAt: { [Op.lt]: new Date() } } });
  await db.models.Code.destroy({ where: { endsAt: { [Op.lt]: new Date() } } });
}
