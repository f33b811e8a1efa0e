import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Take } from "../database/models/recordings";
import { MEDIA_OF_NOBODY } from "./sql";
import type { Storage } from "../storage/storage";

/** Removes a recording for good: its rows, and every object of it. */
export type Erase = (recordingId: string) => Promise<void>;

/** Recordings whose rows are gone, with their takes, by which their files are found. */
export interface Erased {
  recordingIds: string[];
  takes: { id: string; mediaOf: string | null }[];
}

/** Asks for the files of what is gone to be removed, in the transaction in which it goes. */
export type RemoveLater = (erased: Erased, transaction: Transaction) => Promise<void>;

/** The takes of recordings, so that their media can be found when their rows are gone. */
export async function takesOf(
  db: Database,
  recordingIds: readonly string[],
  transaction?: Transaction,
): Promise<Erased["takes"]> {
  const where = { recordingId: [...recordingIds] };
  const takes = await db.models.Take.findAll({ where, attributes: ["id", "mediaOf"], transaction });
  return takes.map(({ id, mediaOf }: Pick<Take, "id" | "mediaOf">) => ({ id, mediaOf }));
}

/**
 * Removes the files of recordings whose rows are gone; what another recording shows as well stays until that goes. Safe
 * to do twice.
 */
export async function removeMedia(
  { db, storage }: { db: Database; storage: Storage },
  { recordingIds, takes }: Erased,
): Promise<void> {
  const parts = [...new Set(takes.flatMap(({ id, mediaOf }) => (mediaOf ? [id, mediaOf] : [id])))];
  const free = await db.rows<{ id: string }>(MEDIA_OF_NOBODY, [parts]);
  for (const { id } of free) await storage.removeAll(`takes/${id}`);
  for (const id of recordingIds) for (const made of ["posters", "films"]) await storage.removeAll(`${made}/${id}`);
}

/**
 * @param stopWork ends what is being done for a recording
 * @param later sees to it that the files go, should this process end before
 */
export function eraser(
  db: Database,
  storage: Storage,
  stopWork: (recordingId: string) => Promise<void>,
  later: RemoveLater,
): Erase {
  return async (recordingId) => {
    await stopWork(recordingId);
    // The rows first: once they are gone nobody can be shown a file that is half removed.
    const erased = await db.sequelize.transaction(async (transaction) => {
      const all = { recordingIds: [recordingId], takes: await takesOf(db, [recordingId], transaction) };
      await db.models.Recording.destroy({ where: { id: recordingId }, transaction });
      await later(all, transaction);
      return all;
    });
    await removeMedia({ db, storage }, erased);
  };
}
