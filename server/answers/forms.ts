import { randomUUID } from "node:crypto";
import Joi from "joi";
import { ASK_KINDS, askProblem, REACTIONS, type NewAsk } from "#core/answers/kinds";
import { COMMENT_MAX, tidyComment } from "#core/answers/text";
import { dayField, nameOf, plainText, uuidField, zoneField } from "../http/fields";

const text = (max: number, what: string) =>
  Joi.string()
    .max(max)
    .required()
    .custom((value: string, helpers) => tidyComment(value) || helpers.error("string.empty"))
    .messages({ "any.required": what, "string.empty": what, "string.max": `Use at most ${max} characters.` });
const moment = Joi.number().integer().min(0).max(86_400_000_000);
/** The revision by which a page tells moments; the published one where it does not say. */
const revision = Joi.number().integer().min(1).max(1_000_000).allow(null).default(null);
const id = uuidField.required();

export const nameField = nameOf("your name");

const words = text(COMMENT_MAX, "Write something.");
/** The name that a page gives to what it makes: sent again after a lost answer, it is made once. */
const made = uuidField.default(() => randomUUID());
/** Everything a viewer can say, by its `do`. */
const SAY = {
  name: { name: nameField },
  comment: {
    id: made,
    body: words,
    at: moment.required(),
    revision,
    until: moment
      .greater(Joi.ref("at"))
      .allow(null)
      .default(null)
      .messages({ "number.greater": "The stretch ends before it begins." }),
  },
  reply: { id: made, to: id, body: words },
  edit: { id, body: words, version: Joi.number().integer().min(1).required() },
  remove: { id },
  settle: { id, settled: Joi.boolean().required() },
  react: {
    kind: Joi.string()
      .valid(...REACTIONS)
      .required(),
    at: moment.required(),
    revision,
  },
  unreact: { id },
  answer: {
    version: Joi.number().integer().min(1).required(),
    revision,
    answer: Joi.alternatives(
      Joi.object({ kind: Joi.valid("nod").required() }),
      Joi.object({
        kind: Joi.valid("not-clear").required(),
        at: moment.required(),
        words: Joi.string().max(COMMENT_MAX).allow("").default("").custom(tidyComment),
      }),
      Joi.object({ kind: Joi.valid("choice").required(), choice: Joi.number().integer().min(0).max(4).required() }),
      Joi.object({ kind: Joi.valid("words").required(), words }),
    )
      .required()
      .messages({ "alternatives.match": "Say what you answer." }),
  },
} as const;
export type Saying = keyof typeof SAY;

export const sayForm = Joi.object({
  do: Joi.string()
    .valid(...Object.keys(SAY))
    .required(),
})
  .unknown()
  .custom((value: { do: Saying }, helpers) => {
    const { error, value: rest } = Joi.object({ do: Joi.any(), ...SAY[value.do] }).validate(value, {
      stripUnknown: true,
    });
    return error ? helpers.message({ custom: error.message }) : rest;
  });

export const visitForm = Joi.object({
  invite: Joi.string().max(60).allow(null).default(null),
  named: Joi.boolean().default(true),
});

/** What the sender asks. Choices that were left empty are left out. */
export const askForm = Joi.object({
  kind: Joi.string()
    .valid(...ASK_KINDS)
    .required(),
  question: Joi.string().max(300).allow("").default("").custom(tidyComment),
  choices: Joi.array()
    .items(Joi.string().max(120).allow("").custom(tidyComment))
    .default([])
    .custom((list: string[]) => list.filter((c) => c !== "")),
  due: dayField.allow(null, "").default(null).empty(""),
  zone: zoneField,
  reminds: Joi.boolean().default(false),
}).custom((ask: NewAsk, helpers) => {
  const problem = askProblem(ask);
  return problem
    ? helpers.message({ custom: problem })
    : { ...ask, choices: ask.kind === "choice" ? ask.choices : [], due: ask.due ?? null };
});

export const inviteForm = Joi.object({
  who: plainText
    .trim()
    .max(4_000)
    .required()
    .messages({ "any.required": "Give a name or an address.", "string.empty": "Give a name or an address." }),
});

export const spansForm = Joi.object({
  batch: uuidField.required(),
  revision,
  spans: Joi.array()
    .max(500)
    .items(
      Joi.object({
        from: moment.required(),
        to: moment.greater(Joi.ref("from")).required(),
        rate: Joi.number().min(0.1).max(16).required(),
      }),
    )
    .required(),
});
