import sharp from "sharp";
import { may } from "#core/access/access";
import type { Size } from "#core/layout/layout";
import type { Micros } from "#core/time/micros";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { safePicture } from "../pictures/safe-picture";
import { Problem } from "../http/problem";
import { digestOf, shortDigest, type Storage } from "../storage/storage";

/** As wide as any that is made. */
const WIDEST = 960;

/** What a poster is kept under. */
export const posterKey = (recordingId: string, jpeg: Uint8Array) =>
  `posters/${recordingId}/${shortDigest(digestOf(jpeg))}.jpg`;

/** The pictures that stand for recordings, as their owners choose them. */
export class Posters {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly storage: Storage,
    /** asks for the work */
    private readonly make: (recordingId: string) => Promise<unknown>,
  ) {}

  /**
   * @param at the moment of the source line that is wanted; null for one that is chosen by itself
   * @throws {Problem} 404 for what is not there, or not theirs
   */
  async choose(member: SignedIn, id: string, at: Micros | null): Promise<void> {
    const recording = await this.access.byId(id);
    if (!recording || !may(member, "change", recording, Date.now()))
      throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
    await this.db.models.Recording.update({ posterAt: at, posterKey: null, posterOwn: false }, { where: { id } });
    await this.make(id);
  }

  /** How large the picture is, in pixels; null where there is none. */
  async sizeOf(id: string): Promise<Size | null> {
    const recording = await this.db.models.Recording.findByPk(id, { attributes: ["posterKey"] });
    if (!recording?.posterKey) return null;
    const { width, height } = await sharp(await this.storage.get(recording.posterKey)).metadata();
    return { width, height };
  }

  /**
   * Takes a picture that stands for a recording, whatever is shown of that. Who may do so is checked by the callers.
   * @param by who sends it
   * @throws {Problem} as `safePicture`
   */
  async take(id: string, sent: Uint8Array, by: string): Promise<void> {
    const { bytes } = await safePicture(sent, "jpeg", { within: WIDEST }, by);
    const key = posterKey(id, bytes);
    await this.storage.put(key, bytes);
    await this.db.models.Recording.update({ posterAt: null, posterKey: key, posterOwn: true }, { where: { id } });
  }
}
