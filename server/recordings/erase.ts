import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Take } from "../database/models/recordings";
import { MEDIA_OF_NOBODY } from "./sql";
import type { Storage } from "../storage/storage";

/** Removes a recording for good: its rows, and every object of it. */
export type Erase = (recordingId: string) => Promise<void>;

/** The takes of recordings, so that their media can be found when their rows are gone. */
export const takesOf = (db: Database, recordingIds: readonly string[], transaction?: Transaction): Promise<Take[]> =>
  db.models.Take.findAll({ where: { recordingId: [...recordingIds] }, attributes: ["id", "mediaOf"], transaction });

/** Removes the files of recordings whose rows are gone; what another recording shows as well stays until that goes. */
export async function removeMedia(
  { db, storage }: { db: Database; storage: Storage },
  recordingIds: readonly string[],
  takes: readonly Pick<Take, "id" | "mediaOf">[],
): Promise<void> {
  const parts = [...new Set(takes.flatMap(({ id, mediaOf }) => (mediaOf ? [id, mediaOf] : [id])))];
  const free = await db.rows<{ id: string }>(MEDIA_OF_NOBODY, [parts]);
  for (const { id } of free) await storage.removeAll(`takes/${id}`);
  for (const id of recordingIds) for (const made of ["posters", "films"]) await storage.removeAll(`${made}/${id}`);
}

/**
 * @param stopWork ends what is being done for a recording
 */
export function eraser(db: Database, storage: Storage, stopWork: (recordingId: string) => Promise<void>): Erase {
  return async (recordingId) => {
    const takes = await takesOf(db, [recordingId]);
    await stopWork(recordingId);
    // The rows first: once they are gone nobody can be shown a file that is half removed.
    await db.models.Recording.destroy({ where: { id: recordingId } });
    await removeMedia({ db, storage }, [recordingId], takes);
  };
}
