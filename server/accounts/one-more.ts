import type { ModelStatic, Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Row } from "../database/models/row";
import { Problem } from "../http/problem";

/**
 * Makes one more of something that a person may have so many of. One at a time, so that many at once are not more.
 * @throws {Problem} 422 with these words, where they have as many
 */
export const oneMore = <T extends Row<T>>(
  db: Database,
  personId: string,
  { of, most, words }: { of: ModelStatic<T>; most: number; words: string },
  make: (transaction: Transaction) => Promise<unknown>,
): Promise<void> =>
  db.sequelize.transaction(async (transaction) => {
    const lock = transaction.LOCK.UPDATE;
    await db.models.Person.findByPk(personId, { attributes: ["id"], lock, transaction });
    const there = await of.count({ where: { personId } as never, transaction });
    if (there >= most) throw new Problem(422, "too-many", words);
    await make(transaction);
  });
