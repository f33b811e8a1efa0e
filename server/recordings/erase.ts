import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";

/** Removes a recording for good: its rows, and every object of it. */
export type Erase = (recordingId: string) => Promise<void>;

/**
 * @param stopWork ends what is being done for a recording
 */
export function eraser(db: Database, storage: Storage, stopWork: (recordingId: string) => Promise<void>): Erase {
  return async (recordingId) => {
    const takes = await db.models.Take.findAll({ where: { recordingId }, attributes: ["id"] });
    await stopWork(recordingId);
    // The rows first: once they are gone nobody can be shown a file that is half removed.
    await db.models.Recording.destroy({ where: { id: recordingId } });
    for (const take of takes) await storage.removeAll(`takes/${take.id}`);
    await storage.removeAll(`posters/${recordingId}`);
  };
}
