import Button from "@mui/material/Button";
import { Form, redirect } from "react-router";
import { FormError } from "../components/FormError";
import { Notice } from "../components/Notice";
import { OldLink } from "../components/OldLink";
import { refused } from "../services/fields.server";
import { orNotFound } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/undo";

export const meta: Route.MetaFunction = () => [
  { title: "Your address · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { account } = context.get(appContext).runtime;
  const { name, address, email } = await orNotFound(account.ofUndo(params.token));
  return { name, address, email };
}

/** Only a press does it: programs that look into mail open links as well. */
export async function action({ context, params }: Route.ActionArgs) {
  try {
    const reset = await context.get(appContext).runtime.account.undoAddress(params.token);
    return redirect(`/reset/${reset}`);
  } catch (problem) {
    return refused(problem);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/forgot" />;
}

export default function Undo({ loaderData, actionData }: Route.ComponentProps) {
  const { name, address, email } = loaderData;
  return (
    <Notice
      title="Get your account back"
      action={
        <Form method="post">
          <Button type="submit" variant="contained">
            Put my address back
          </Button>
          <FormError error={actionData?.error} sx={{ mt: 2 }} />
        </Form>
      }
    >
      {name} signs in with {email} now. Put {address} back if that was not you: everybody is signed out, and you choose
      a new password next.
    </Notice>
  );
}
