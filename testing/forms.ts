import type Joi from "joi";

/** The field for which a form is refused; "" for the whole of it, null where it is taken. */
export const wrongField = (schema: Joi.Schema, given: unknown): string | null => {
  const { error } = schema.validate(given);
  return error ? deepest(error.details).join(".") : null;
};

/** Where there are several forms, told apart by what they `do`, the one that was meant is wrong in something else. */
function deepest(details: readonly Joi.ValidationErrorItem[]): (string | number)[] {
  const paths = details.map(({ path, context }) => {
    const within = (context as { details?: Joi.ValidationErrorItem[] } | undefined)?.details;
    return within ? deepest(within) : path;
  });
  const rank = (path: (string | number)[]) => (path[0] === "do" ? 0 : path.length);
  return paths.reduce((best, path) => (rank(path) > rank(best) ? path : best));
}
