import Joi from "joi";
import { FIRST_WISHES, NOTICE_KINDS, NOTICE_TIMES, type NoticeWishes } from "#core/notices/wishes";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Post } from "../mail/post";
import { jsonField, zoneField } from "../http/fields";
import { LOOK_ANEW, PUT_WISHES } from "./sql";

const hour = Joi.number().integer().min(0).max(23).required();
const time = Joi.string()
  .valid(...NOTICE_TIMES)
  .required();

/** How somebody wants to be told. */
export const wishesForm = Joi.object({
  wishes: jsonField(
    "How you are told",
    Joi.object({
      mail: Joi.object(Object.fromEntries(NOTICE_KINDS.map((kind) => [kind, time]))).required(),
      hidden: Joi.array()
        .items(Joi.string().valid(...NOTICE_KINDS))
        .unique()
        .required(),
      zone: zoneField,
      quiet: Joi.object({ from: hour, until: hour.invalid(Joi.ref("from")) })
        .allow(null)
        .required()
        .messages({ "any.invalid": "The quiet hours begin and end at the same hour." }),
    }),
    4_000,
  ),
});

/** How people want to be told. */
export class Wishes {
  constructor(
    private readonly db: Database,
    private readonly post: Pick<Post, "wantsAgain">,
  ) {}

  async of(personId: string): Promise<NoticeWishes> {
    const row = await this.db.models.NoticeWish.findByPk(personId);
    if (!row) return FIRST_WISHES;
    const { mail, hidden, zone, quietFrom, quietUntil } = row;
    const quiet = quietFrom === null || quietUntil === null ? null : { from: quietFrom, until: quietUntil };
    // A kind that came after they had chosen is told as it is to everybody.
    return { mail: { ...FIRST_WISHES.mail, ...mail }, hidden, zone, quiet };
  }

  /** What waits to be told is told as they want it from now on, also where news was refused before. */
  async save({ id: personId, email }: SignedIn, { mail, hidden, zone, quiet }: NoticeWishes): Promise<void> {
    const bind = [personId, JSON.stringify(mail), hidden, zone, quiet?.from ?? null, quiet?.until ?? null];
    await this.db.rows(PUT_WISHES, bind);
    await this.post.wantsAgain(email, "news");
    await this.db.rows(LOOK_ANEW, [personId]);
  }
}
