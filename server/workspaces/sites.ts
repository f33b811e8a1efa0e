import Joi from "joi";
import { MOST_SITES, readSite } from "#core/access/sites";
import { requireDeed } from "../access/require";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { DROP_SITE, SITES, TRUST_SITE } from "./sql";

export const siteForm = Joi.object({
  site: Joi.string()
    .max(2_000)
    .required()
    .custom((given: string, helpers) => readSite(given) ?? helpers.error("any.invalid"))
    .messages({
      "any.required": "Give the address of the site.",
      "string.empty": "Give the address of the site.",
      "string.max": "This is no address of a site.",
      "any.invalid": "This is no address of a site. Give one like https://course.example.org.",
    }),
});

/** The sites that may show a workspace's recordings in their pages, by their origins. */
export class Sites {
  constructor(private readonly db: Database) {}

  /** In the order in which they were given. */
  async of(workspaceId: string): Promise<string[]> {
    const [row] = await this.db.rows<{ sites: string[] }>(SITES, [workspaceId]);
    return row?.sites ?? [];
  }

  /** Lets a site show recordings; one that may already does not come twice. @throws {Problem} 403, 422 for too many */
  async trust(member: SignedIn, site: string): Promise<void> {
    requireDeed(member, "manage");
    const done = await this.db.rows(TRUST_SITE, [member.workspaceId, site, MOST_SITES]);
    if (done.length === 0) throw new Problem(422, "too-many", `At most ${MOST_SITES} sites can be named.`);
  }

  /** From now on it shows nothing more; what it shows already stays until its page is loaded anew. */
  async drop(member: SignedIn, site: string): Promise<void> {
    requireDeed(member, "manage");
    await this.db.rows(DROP_SITE, [member.workspaceId, site]);
  }
}
