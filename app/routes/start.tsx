import { startedForm } from "#server/accounts/starts";
import type { SignUp } from "#server/accounts/accounts";
import { FormPage } from "../components/FormPage";
import { OldLink } from "../components/OldLink";
import { NAME_FIELD, PASSWORD_FIELD, WORKSPACE_FIELD } from "../components/account-fields";
import { readFields } from "../services/fields.server";
import { orNotFound, ownPath, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/start";

export const meta: Route.MetaFunction = () => [
  { title: "Start a workspace · Clear Nod" },
  { name: "robots", content: "noindex" },
];

/** Whoever comes here has read the letter: the address is theirs. */
export async function loader({ context, params }: Route.LoaderArgs) {
  return { email: await orNotFound(context.get(appContext).runtime.starts.addressOf(params.token)) };
}

export async function action({ context, request, params, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  let fields: Record<string, string> = {};
  try {
    fields = await readFields(request);
    const form = readForm<Omit<SignUp, "email">>(fields, startedForm);
    if ("failure" in form) return form.failure;
    const { personId, email } = await app.runtime.starts.start(params.token, form.value, app.address);
    return await enter(app, personId, email, ownPath(url.searchParams.get("to")));
  } catch (problem) {
    return refusal(problem, fields);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/sign-up" />;
}

export default function Start({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <FormPage
      title="Start a workspace"
      button="Start"
      failure={actionData}
      fields={[NAME_FIELD, WORKSPACE_FIELD, PASSWORD_FIELD]}
    >
      You sign in with {loaderData.email}.
    </FormPage>
  );
}
