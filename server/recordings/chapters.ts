import Joi from "joi";
import { MOST_TAKES, TAKE_SPAN } from "#core/recipe/source-line";
import { titleField } from "./takes";

/** A moment of the source line. */
export const sourceField = Joi.number()
  .strict()
  .integer()
  .min(0)
  .max(MOST_TAKES * TAKE_SPAN)
  .required();

/** The chapters of one recording, in source time. */
export const chaptersField = Joi.array()
  .items(Joi.object({ at: sourceField, title: titleField }))
  .max(100)
  .required();
