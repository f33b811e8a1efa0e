import Button from "@mui/material/Button";
import { Form } from "react-router";
import { Notice } from "../components/Notice";
import { OldLink } from "../components/OldLink";
import { refused } from "../services/fields.server";
import { orNotFound } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/confirm";
import { FormError } from "../components/FormError";

export const meta: Route.MetaFunction = () => [
  { title: "Your address · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { account } = context.get(appContext).runtime;
  const { name, address } = await orNotFound(account.addressOf(params.token));
  return { name, address };
}

/** Only a press confirms it: programs that look into mail open links as well. */
export async function action({ context, params }: Route.ActionArgs) {
  try {
    const address = await context.get(appContext).runtime.account.confirmAddress(params.token);
    return { error: null, address };
  } catch (problem) {
    return refused(problem);
  }
}

/** What was confirmed cannot be looked for again. */
export const shouldRevalidate = () => false;

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/account" />;
}

export default function Confirm({ loaderData, actionData }: Route.ComponentProps) {
  const { name, address } = loaderData;
  if (actionData && actionData.error === null)
    return (
      <Notice
        title="The address is yours"
        action={
          <Button variant="contained" href="/library">
            Go to the library
          </Button>
        }
      >
        You sign in with it from now on.
      </Notice>
    );
  return (
    <Notice
      title="Is this your address?"
      action={
        <Form method="post">
          <Button type="submit" variant="contained">
            Yes, it is mine
          </Button>
          <FormError error={actionData?.error} sx={{ mt: 2 }} />
        </Form>
      }
    >
      {name} signs in with {address} from then on, and with the one before no more.
    </Notice>
  );
}
