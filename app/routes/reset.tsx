import { Link } from "react-router";
import { resetForm } from "#server/accounts/account";
import { FormPage } from "../components/FormPage";
import { OldLink } from "../components/OldLink";
import { readFields } from "../services/fields.server";
import { orNotFound, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/reset";

export const meta: Route.MetaFunction = () => [
  { title: "A new password · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { account } = context.get(appContext).runtime;
  const { name } = await orNotFound(account.ofReset(params.token));
  return { name };
}

/** Only a press sets it: programs that look into mail open links as well. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  try {
    const form = readForm<{ password: string }>(await readFields(request), resetForm);
    if ("failure" in form) return form.failure;
    const { personId, email } = await app.runtime.account.reset(params.token, form.value.password);
    return await enter(app, personId, email, "/library");
  } catch (problem) {
    return refusal(problem);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/forgot" />;
}

export default function Reset({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <FormPage
      title={`A new password, ${loaderData.name}`}
      button="Set it, and sign in"
      failure={actionData}
      fields={[
        {
          name: "password",
          label: "New password",
          type: "password",
          autoComplete: "new-password",
          autoFocus: true,
          helperText: "At least 10 characters. Everywhere else you are signed out.",
        },
      ]}
    >
      <Link to="/sign-in">Leave it as it is</Link>
    </FormPage>
  );
}
