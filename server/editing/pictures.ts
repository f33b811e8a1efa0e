import { randomUUID } from "node:crypto";
import type { Recipe } from "#core/recipe/recipe";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { safePicture } from "../pictures/safe-picture";
import { PICTURE, PICTURE_IS_SHOWN, PUT_PICTURE } from "./sql";

export interface Picture {
  id: string;
  width: number;
  height: number;
}

/** How many a recording has at the most, and how large one is. Pixels */
const MOST = 60;
const WIDEST = 1_280;

/** Pictures that are put on recordings. Who may have them is checked by the callers. */
export class Pictures {
  constructor(private readonly db: Database) {}

  /**
   * @param by who sends it
   * @throws {Problem} as `safePicture`; 409 where there are too many
   */
  async put(recordingId: string, sent: Uint8Array, by: string): Promise<Picture> {
    const { bytes, width, height } = await safePicture(sent, "webp", { within: WIDEST }, by);
    const id = randomUUID();
    const [made] = await this.db.rows(PUT_PICTURE, [id, recordingId, width, height, bytes, MOST]);
    if (!made) throw new Problem(409, "many-pictures", `A recording can have ${MOST} pictures.`);
    return { id, width, height };
  }

  /** @returns null where there is none of that name */
  async bytes(recordingId: string, id: string): Promise<Buffer | null> {
    const [row] = await this.db.rows<{ bytes: Buffer }>(PICTURE, [recordingId, id]);
    return row?.bytes ?? null;
  }

  /** The same, only while it is on what is published. */
  async shown(recordingId: string, id: string): Promise<Buffer | null> {
    const [row] = await this.db.rows<{ bytes: Buffer }>(PICTURE_IS_SHOWN, [recordingId, id]);
    return row?.bytes ?? null;
  }
}

/** The pictures that a recipe has on it. */
export const picturesOn = ({ marks = {} }: Pick<Recipe, "marks">): string[] =>
  Object.values(marks).flatMap(({ mark }) => (mark.tool === "picture" ? [mark.text] : []));
