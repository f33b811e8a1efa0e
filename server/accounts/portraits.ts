import Joi from "joi";
import type { Database } from "../database/connection";
import { safePicture } from "../pictures/safe-picture";
import { digestOf, isShortDigest, shortDigest } from "../storage/storage";
import type { Sessions, SignedIn } from "./sessions";
import { PORTRAIT, PUT_PORTRAIT } from "./sql";

/** The shape of an arch, three times as large as the largest that is shown. Pixels */
export const PORTRAIT_SIZE = { width: 240, height: 276 };
export const noPortraitForm = Joi.object({});

/** The pictures that stand for people beside their words. */
export class Portraits {
  constructor(
    private readonly db: Database,
    private readonly sessions: Sessions,
  ) {}

  /** @throws {Problem} as `safePicture` */
  async put({ id }: Pick<SignedIn, "id">, sent: Uint8Array): Promise<void> {
    const { bytes } = await safePicture(sent, "webp", { fills: PORTRAIT_SIZE }, id);
    await this.db.rows(PUT_PORTRAIT, [id, shortDigest(digestOf(bytes)), bytes]);
    await this.sessions.changed(id);
  }

  async drop({ id }: Pick<SignedIn, "id">): Promise<void> {
    await this.db.models.Portrait.destroy({ where: { personId: id } });
    await this.sessions.changed(id);
  }

  /** @returns the picture of this name, as WebP; null where there is none */
  async bytes(digest: string): Promise<Buffer | null> {
    const [row] = isShortDigest(digest) ? await this.db.rows<{ bytes: Buffer }>(PORTRAIT, [digest]) : [];
    return row?.bytes ?? null;
  }
}
