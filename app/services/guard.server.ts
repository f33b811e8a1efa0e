import type Joi from "joi";
import { data, redirect } from "react-router";
import { may } from "#core/access/access";
import type { KnownRecording } from "#server/access/facts";
import type { SignedIn } from "#server/accounts/sessions";
import { isUuid } from "#server/http/fields";
import { Problem } from "#server/http/problem";
import type { AppContext } from "./context.server";
import { orRefused } from "./fields.server";

/** The member who is signed in. Guests are sent to the sign-in page and come back afterwards. */
export function requireMember(app: AppContext, url: URL): SignedIn {
  if (app.member) return app.member;
  throw redirect(`/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
}

/** A recording of the member's own, of which they may see the figures. @throws {Problem} 404 */
export async function ownFigures({ runtime }: AppContext, member: SignedIn, id: string): Promise<KnownRecording> {
  const recording = isUuid(id) ? await runtime.access.byId(id) : null;
  if (!recording || !may(member, "figures", recording, Date.now()))
    throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
  return recording;
}

/** A recording of the member's own, for what only they are told. @throws 401 where nobody is signed in, 404 else */
export async function ownRecording({ member, runtime }: AppContext, id: string) {
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  return { member, runtime, recording: await orRefused(runtime.access.requireById(member, "change", id)) };
}

const HERE = "http://here.invalid";

/**
 * A path of our own to go on to; anything else is taken as the library. Read as a browser reads it, which leaves out
 * tabs and takes backslashes for slashes.
 */
export function ownPath(to: unknown): string {
  if (typeof to !== "string" || !to.startsWith("/") || !URL.canParse(to, HERE)) return "/library";
  const { origin, pathname, search, hash } = new URL(to, HERE);
  return origin === HERE && !pathname.startsWith("//") ? pathname + search + hash : "/library";
}

/** What a form says when it is not taken: a message for each field, and one for the whole. */
export interface FormFailure {
  errors: Record<string, string>;
  values: Record<string, string>;
}

/** Checks the fields of a form. Passwords are never sent back. */
export function readForm<T>(
  given: Record<string, string>,
  schema: Joi.ObjectSchema,
): { value: T } | { failure: FormFailure } {
  const { value, error } = schema.validate(given, { abortEarly: false, stripUnknown: true });
  if (!error) return { value: value as T };
  const errors = Object.fromEntries(error.details.map((d) => [String(d.path[0] ?? "form"), d.message]));
  return { failure: { errors, values: withoutSecrets(given) } };
}

export function refusal(problem: unknown, values: Record<string, string> = {}) {
  if (!(problem instanceof Problem)) throw problem;
  return data({ errors: { form: problem.message }, values: withoutSecrets(values) }, { status: problem.status });
}

/** Turns a problem of the server room into an answer for the error page. */
export async function orNotFound<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (cause) {
    if (cause instanceof Problem) throw data({ message: cause.message }, { status: cause.status });
    throw cause;
  }
}

const withoutSecrets = ({ password: _, ...rest }: Record<string, string>) => rest;
