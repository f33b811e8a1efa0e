import { Link } from "react-router";
import { addressForm } from "#server/accounts/accounts";
import { FormPage } from "../components/FormPage";
import { Notice } from "../components/Notice";
import { readFields } from "../services/fields.server";
import { readForm, refusal } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/forgot";

export const meta: Route.MetaFunction = () => [{ title: "A new password · Clear Nod" }];

export function loader({ context }: Route.LoaderArgs) {
  return { mails: context.get(appContext).mails };
}

export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  let fields: Record<string, string> = {};
  try {
    fields = await readFields(request);
    const form = readForm<{ email: string }>(fields, addressForm);
    if ("failure" in form) return form.failure;
    await app.runtime.account.forgot(form.value.email, app.address);
    return { asked: form.value.email };
  } catch (problem) {
    return refusal(problem, fields);
  }
}

export default function Forgot({ loaderData, actionData }: Route.ComponentProps) {
  if (!loaderData.mails)
    return (
      <Notice title="No mail is sent from here">
        Whoever runs this server has set up no mail, so no link can be sent to you. Ask them.
      </Notice>
    );
  if (actionData && "asked" in actionData)
    return (
      <Notice title="Look at your mail">
        If {actionData.asked} has an account, a link to a new password is on its way there. It is open for an hour.
      </Notice>
    );
  return (
    <FormPage
      title="A new password"
      button="Mail me a link"
      failure={actionData}
      fields={[{ name: "email", label: "E-mail address", type: "email", autoComplete: "username", autoFocus: true }]}
    >
      <Link to="/sign-in">Back to signing in</Link>
    </FormPage>
  );
}
