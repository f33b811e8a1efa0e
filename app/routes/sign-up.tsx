import { Link, redirect } from "react-router";
import { signUpForm, signUpToJoinForm, type NewAccount, type SignUp } from "#server/accounts/accounts";
import { FormPage } from "../components/FormPage";
import { Notice } from "../components/Notice";
import { readFields } from "../services/fields.server";
import { orNotFound, ownPath, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/sign-up";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${titleOf(loaderData?.joins ?? null)} · Clear Nod` },
];

const joinOf = (url: URL) => url.searchParams.get("join");
const titleOf = (joins: string | null) => (joins ? `Join ${joins}` : "Start a workspace");

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const join = joinOf(url);
  if (app.member) throw redirect(join ? `/join/${encodeURIComponent(join)}` : "/library");
  const to = join === null ? ownPath(url.searchParams.get("to")) : `/join/${encodeURIComponent(join)}`;
  const link = join === null ? null : await orNotFound(app.runtime.workspaces.linkOf(join));
  return {
    back: to,
    address: link?.address ?? "",
    joins: link?.workspaceName ?? null,
    open: link !== null || (await app.runtime.accounts.isOpen()),
  };
}

export async function action({ context, request, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { accounts } = app.runtime;
  const to = ownPath(url.searchParams.get("to"));
  const join = joinOf(url);
  let fields: Record<string, string> = {};
  try {
    fields = await readFields(request);
    const form = readForm<NewAccount>(fields, join ? signUpToJoinForm : signUpForm);
    if ("failure" in form) return form.failure;
    const personId = join
      ? await accounts.signUpToJoin(form.value, join, app.address)
      : await accounts.signUp(form.value as SignUp, app.address);
    return await enter(app, personId, form.value.email, to);
  } catch (problem) {
    return refusal(problem, fields);
  }
}

const WORKSPACE_FIELD = {
  name: "workspace",
  label: "Workspace",
  autoComplete: "organization",
  helperText: "The name of your practice, team or class.",
};

export default function SignUpPage({ actionData, loaderData: { back, address, joins, open } }: Route.ComponentProps) {
  if (!open)
    return (
      <Notice title="You need an invitation">
        Accounts are made by invitation here. Ask a colleague who has one to invite you.
      </Notice>
    );
  return (
    <FormPage
      title={titleOf(joins)}
      button={joins ? "Join" : "Start"}
      failure={actionData}
      fields={[
        { name: "name", label: "Your name", autoComplete: "name", autoFocus: true },
        ...(joins ? [] : [WORKSPACE_FIELD]),
        { name: "email", label: "E-mail address", type: "email", autoComplete: "username", defaultValue: address },
        {
          name: "password",
          label: "Password",
          type: "password",
          autoComplete: "new-password",
          helperText: "At least 10 characters.",
        },
      ]}
    >
      Have an account? <Link to={`/sign-in?to=${encodeURIComponent(back)}`}>Sign in</Link>
    </FormPage>
  );
}
