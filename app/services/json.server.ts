import type Joi from "joi";
import { data } from "react-router";
import type { Who } from "#server/answers/viewers";
import { Problem } from "#server/http/problem";
import type { AppContext } from "./context.server";

/** An action of a page's own code: JSON in, JSON out, problems as `{ error, message }` with their status. */
export async function answerJson<T>(
  request: Request,
  schema: Joi.Schema,
  work: (value: T) => Promise<object>,
  headers: () => HeadersInit = () => ({}),
) {
  try {
    const { value, error } = schema.validate(await readJson(request), { stripUnknown: true });
    if (error) throw new Problem(422, "not-valid", error.message);
    const done = await work(value as T);
    return data(done, { headers: headers() });
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem;
    return data({ error: problem.code, message: problem.message, ...problem.detail }, { status: problem.status });
  }
}

async function readJson(request: Request): Promise<unknown> {
  const text = await request.text();
  try {
    return JSON.parse(text);
  } catch {
    throw new Problem(400, "not-json", "The body is not JSON.");
  }
}

/** Who asks, for what is said at a link. */
export const whoOf = ({ member, guestKey, address, subject }: AppContext): Who => ({
  member,
  guestKey,
  address,
  subject,
});
