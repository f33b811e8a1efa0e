import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { MediaFile } from "./playback";

/** The poster of a recording. @throws {Problem} 404 while there is none */
export async function posterFile(db: Database, recordingId: string): Promise<MediaFile> {
  const recording = await db.models.Recording.findByPk(recordingId, { attributes: ["posterKey"] });
  const key = recording?.posterKey;
  if (!key) throw new Problem(404, "no-poster", "There is no poster yet.");
  return { key, etag: `"${key.split("/").at(-1)}"`, type: "image/jpeg", shift: 0 };
}
