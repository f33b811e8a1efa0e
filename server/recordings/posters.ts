import { may } from "#core/access/access";
import type { Micros } from "#core/time/micros";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";

/** The pictures that stand for recordings, as their owners choose them. */
export class Posters {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
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
    await this.db.models.Recording.update({ posterAt: at, posterKey: null }, { where: { id } });
    await this.make(id);
  }
}
