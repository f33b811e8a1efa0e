import { Link, redirect } from "react-router";
import { addressForm, signUpForm, signUpToJoinForm, type NewAccount, type SignUp } from "#server/accounts/accounts";
import { NAME_FIELD, PASSWORD_FIELD, WORKSPACE_FIELD } from "../components/account-fields";
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
    // Whoever is invited has their letter, or their link.
    byLetter: link === null && app.runtime.starts.byLetter,
  };
}

export async function action({ context, request, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { accounts, starts } = app.runtime;
  const to = ownPath(url.searchParams.get("to"));
  const join = joinOf(url);
  let fields: Record<string, string> = {};
  try {
    fields = await readFields(request);
    if (!join && starts.byLetter) {
      const asked = readForm<{ email: string }>({ email: fields.email ?? "" }, addressForm);
      if ("failure" in asked) return asked.failure;
      await starts.ask(asked.value.email, to, app.address);
      return { asked: asked.value.email };
    }
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

export default function SignUpPage({ actionData, loaderData }: Route.ComponentProps) {
  const { back, address, joins, open, byLetter } = loaderData;
  if (!open)
    return (
      <Notice title="You need an invitation">
        Accounts are made by invitation here. Ask a colleague who has one to invite you.
      </Notice>
    );
  if (actionData && "asked" in actionData)
    return (
      <Notice title="Look at your mail">
        A letter is on its way to {actionData.asked}. Its link takes you on, and is open for a day.
      </Notice>
    );
  const email = { name: "email", label: "E-mail address", type: "email", autoComplete: "username" };
  return (
    <FormPage
      title={titleOf(joins)}
      button={byLetter ? "Mail me a link" : joins ? "Join" : "Start"}
      failure={actionData}
      fields={
        byLetter
          ? [{ ...email, autoFocus: true }]
          : [NAME_FIELD, ...(joins ? [] : [WORKSPACE_FIELD]), { ...email, defaultValue: address }, PASSWORD_FIELD]
      }
    >
      Have an account? <Link to={`/sign-in?to=${encodeURIComponent(back)}`}>Sign in</Link>
    </FormPage>
  );
}
