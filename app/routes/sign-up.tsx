import { Link, redirect } from "react-router";
import { signUpForm, type SignUp } from "#server/accounts/accounts";
import { FormPage } from "../components/FormPage";
import { readFields } from "../services/fields.server";
import { ownPath, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import type { Route } from "./+types/sign-up";

export const meta: Route.MetaFunction = () => [{ title: "Start a workspace · Clear Nod" }];

export function loader({ context }: Route.LoaderArgs) {
  if (context.member) throw redirect("/library");
  return null;
}

export async function action({ context, request }: Route.ActionArgs) {
  const to = ownPath(new URL(request.url).searchParams.get("to"));
  let fields: Record<string, string> = {};
  try {
    fields = await readFields(request);
    const form = readForm<SignUp>(fields, signUpForm);
    if ("failure" in form) return form.failure;
    const memberId = await context.runtime.accounts.signUp(form.value, context.address);
    return await enter(context, memberId, form.value.email, to);
  } catch (problem) {
    return refusal(problem, fields);
  }
}

export default function SignUpPage({ actionData }: Route.ComponentProps) {
  return (
    <FormPage
      title="Start a workspace"
      button="Start"
      failure={actionData}
      fields={[
        { name: "name", label: "Your name", autoComplete: "name", autoFocus: true },
        {
          name: "workspace",
          label: "Workspace",
          autoComplete: "organization",
          helperText: "The name of your practice, team or class.",
        },
        { name: "email", label: "E-mail address", type: "email", autoComplete: "username" },
        {
          name: "password",
          label: "Password",
          type: "password",
          autoComplete: "new-password",
          helperText: "At least 10 characters.",
        },
      ]}
    >
      Have an account? <Link to="/sign-in">Sign in</Link>
    </FormPage>
  );
}
