import { data } from "react-router";
import { Problem } from "#server/http/problem";

const FORMS = /^(?:application\/x-www-form-urlencoded|multipart\/form-data)(?:;|$)/i;

/** The text fields of a form. @throws {Problem} 415 for what is no form, 400 for one that cannot be read */
export async function readFields(request: Request): Promise<Record<string, string>> {
  if (!FORMS.test(request.headers.get("content-type") ?? "")) {
    throw new Problem(415, "no-form", "Send this as a form.");
  }
  const form = await request.formData().catch(() => {
    throw new Problem(400, "not-readable", "This form cannot be read. Send it again.");
  });
  return Object.fromEntries([...form].filter((e): e is [string, string] => typeof e[1] === "string"));
}

/** A problem as the answer of an action: `{ error }` with its status. @throws what is none */
export function refused(problem: unknown) {
  if (!(problem instanceof Problem)) throw problem;
  return data({ error: problem.message }, { status: problem.status });
}

/** The same, thrown. */
export async function orRefused<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (problem) {
    throw refused(problem);
  }
}
