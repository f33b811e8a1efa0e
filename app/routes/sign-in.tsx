import { Link, redirect, useSearchParams } from "react-router";
import { signInForm } from "#server/accounts/accounts";
import { FormPage } from "../components/FormPage";
import { ownPath, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import type { Route } from "./+types/sign-in";

export const meta: Route.MetaFunction = () => [{ title: "Sign in · Clear Nod" }];

export function loader({ context, request }: Route.LoaderArgs) {
  if (context.member) throw redirect(ownPath(new URL(request.url).searchParams.get("to")));
  return null;
}

export async function action({ context, request }: Route.ActionArgs) {
  const to = ownPath(new URL(request.url).searchParams.get("to"));
  const form = await readForm<{ email: string; password: string }>(request, signInForm);
  if ("failure" in form) return form.failure;
  try {
    return await enter(context, await context.runtime.accounts.signIn(form.value, context.address), to);
  } catch (problem) {
    return refusal(problem, form.value);
  }
}

export default function SignIn({ actionData }: Route.ComponentProps) {
  const [query] = useSearchParams();
  const to = query.get("to");
  return (
    <FormPage
      title="Sign in"
      button="Sign in"
      failure={actionData}
      fields={[
        { name: "email", label: "E-mail address", type: "email", autoComplete: "username", autoFocus: true },
        { name: "password", label: "Password", type: "password", autoComplete: "current-password" },
      ]}
    >
      New here? <Link to={to ? `/sign-up?to=${encodeURIComponent(to)}` : "/sign-up"}>Start a workspace</Link>
    </FormPage>
  );
}
