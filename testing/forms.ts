import type Joi from "joi";

/** The field for which a form is refused; "" for the whole of it, null where it is taken. */
export const wrongField = (schema: Joi.Schema, given: unknown): string | null => {
  const { error } = schema.validate(given);
  return error ? deepest(error.details).join(".") : null;
};

/** Where there are several forms, the one that was meant is wrong the deepest. */
function deepest(details: readonly Joi.ValidationErrorItem[]): (string | number)[] {
  const paths = details.map(({ path, context }) => {
    const within = (context as { details?: Joi.ValidationErrorItem[] } | undefined)?.details;
    return within ? deepest(within) : path;
  });
  return paths.reduce((best, path) => (path.length > best.length ? path : best), []);
}
