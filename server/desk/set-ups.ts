import { randomUUID } from "node:crypto";
import Joi from "joi";
import { FIRST_AUDIENCES } from "#core/access/access";
import { COUNT_INS, FOLDER_NAME_MAX, readWishes, STOPS, type Wishes } from "#core/desk/wishes";
import { PLACES, SCENE_KINDS, SIZES } from "#core/layout/layout";
import { MOST_ZOOM } from "#core/layout/lens";
import { HEIGHTS, RATES } from "#core/media/quality";
import { TAKE_SOURCES } from "#core/media/tracks";
import type { Database } from "../database/connection";
import { jsonField, nameOf, oneOf, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import { SAVE_SET_UP, SET_UPS } from "./sql";

/** How many set-ups a person may have. */
const MOST = 20;

/** Wishes under a name. */
export interface SetUp {
  id: string;
  name: string;
  wishes: Wishes;
  /** the recorder's page starts with it */
  isFirst: boolean;
}

const flag = Joi.boolean().strict().required();
const wholeField = (least: number, most: number) => Joi.number().strict().integer().min(least).max(most).required();
const wishesField = Joi.object({
  source: oneOf(TAKE_SOURCES),
  audience: oneOf(FIRST_AUDIENCES),
  folder: Joi.object({
    id: uuidField.required(),
    name: Joi.string().max(FOLDER_NAME_MAX).required(),
    workspace: uuidField.required(),
  })
    .allow(null)
    .required(),
  quality: Joi.object({ height: oneOf(HEIGHTS), rate: oneOf(RATES) }).required(),
  arrangement: Joi.object({ scene: oneOf(SCENE_KINDS), place: oneOf(PLACES), size: oneOf(SIZES) }).required(),
  lens: Joi.object({
    zoom: wholeField(100, MOST_ZOOM),
    x: wholeField(0, 100),
    y: wholeField(0, 100),
    blurs: flag,
    flips: flag,
  }).required(),
  soundLevel: wholeField(0, 100),
  suppresses: flag,
  cues: flag,
  alarms: flag,
  mirrored: flag,
  floats: flag,
  stays: flag,
  countIn: oneOf(COUNT_INS),
  stopAfter: oneOf(STOPS),
  atOnce: flag,
  withMicrophone: flag,
});

export const saveSetUpForm = Joi.object({
  name: nameOf("the set-up a name"),
  wishes: jsonField("The set-up", wishesField, 4_000),
  isFirst: Joi.boolean().default(false),
});
export const removeSetUpForm = Joi.object({ id: uuidField.required() });

/** What people keep of how they record. Everybody has their own. */
export class SetUps {
  constructor(private readonly db: Database) {}

  async list(personId: string): Promise<SetUp[]> {
    const rows = await this.db.rows<SetUp>(SET_UPS, [personId]);
    return rows.map((row) => ({ ...row, wishes: readWishes(row.wishes) }));
  }

  /** One of the same name is written over. @throws {Problem} 422 for one too many */
  async save(personId: string, { name, wishes, isFirst }: Omit<SetUp, "id">): Promise<void> {
    const given = [randomUUID(), personId, name, JSON.stringify(wishes), isFirst, MOST];
    await this.db.sequelize.transaction(async (transaction) => {
      // One after the other: two that are saved at once are counted, and only one is the first.
      await this.db.models.Person.findByPk(personId, { transaction, lock: true, attributes: ["id"] });
      if (isFirst) await this.db.models.SetUp.update({ isFirst: false }, { where: { personId }, transaction });
      const saved = await this.db.rows(SAVE_SET_UP, given, transaction);
      if (saved.length === 0)
        throw new Problem(422, "too-many", `You have ${MOST} set-ups. Remove one, then keep this one.`);
    });
  }

  async remove(personId: string, id: string): Promise<void> {
    await this.db.models.SetUp.destroy({ where: { id, personId } });
  }
}
