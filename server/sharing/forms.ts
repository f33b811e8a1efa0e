import Joi from "joi";
import { AUDIENCES } from "#core/access/access";
import { PASSWORD_MIN } from "#core/access/password";
import { WORDS_MAX } from "#core/mail/letter";
import { emailField } from "../accounts/accounts";
import { plainText, uuidField } from "../http/fields";

/** A moment from which, or until which, something is open. */
export const sharedMoment = Joi.date().iso().min("2020-01-01").max("2200-01-01");
/** The same, or nothing at all. */
const moment = Joi.alternatives(sharedMoment, Joi.valid("").empty("").default(null));

/** What of who may open a recording is to be another way: only what is named changes. */
export const shareForm = Joi.object({
  audience: Joi.string().valid(...AUDIENCES),
  opensAt: moment.optional(),
  endsAt: moment.optional(),
  password: Joi.string()
    .min(PASSWORD_MIN)
    .max(200)
    .allow("")
    .messages({
      "string.min": `Use at least ${PASSWORD_MIN} characters.`,
      "string.max": "Use at most 200 characters.",
    }),
  comments: Joi.boolean(),
  downloads: Joi.boolean(),
  asksNames: Joi.boolean(),
});

/** Who else is seen or heard in a recording, and whether they agree. */
export const consentForm = {
  others: plainText.trim().max(300).allow("").required(),
  agreed: Joi.boolean().required(),
};

/** What somebody shows at a closed link. */
export const enterForm = Joi.object({
  do: Joi.string().valid("password", "ask-code", "code").required(),
  password: Joi.when("do", { is: "password", then: Joi.string().max(200).required() }),
  address: Joi.when("do", { is: Joi.valid("ask-code", "code"), then: emailField }),
  code: Joi.when("do", {
    is: "code",
    then: Joi.string()
      .replace(/[\s-]/g, "")
      .pattern(/^\d{6}$/)
      .required()
      .messages({ "string.pattern.base": "The code has six figures." }),
  }),
});

/** To whom a recording is mailed, and in which words of one's own. */
export const sendForm = {
  words: plainText.trim().max(WORDS_MAX).allow("").default(""),
  to: Joi.array().items(uuidField).max(500).default([]),
};
