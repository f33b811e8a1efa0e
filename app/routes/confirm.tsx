import Button from "@mui/material/Button";
import { Form, redirect } from "react-router";
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

/** Whoever has the letter alone may be anybody who reads that mail: it is confirmed by the person, signed in. */
export async function loader({ context, params, url }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  // Its link opens nothing any more; whoever came by it sees what holds from now on.
  const done = url.searchParams.get("done");
  if (done !== null && member) return { done, name: member.name, address: member.email, isThem: true, isNew: false };
  const { personId, name, address, email } = await orNotFound(runtime.account.addressOf(params.token));
  if (!member) throw redirect(`/sign-in?to=${encodeURIComponent(url.pathname)}`);
  return { done: null, name, address, isThem: member.id === personId, isNew: address !== email };
}

/** Only a press confirms it: programs that look into mail open links as well. */
export async function action({ context, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  try {
    const address = await app.runtime.account.confirmAddress(params.token, app.member);
    return redirect(`/confirm/${params.token}?done=${address === app.member?.email ? "proved" : "new"}`);
  } catch (problem) {
    return refused(problem);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/account" />;
}

export default function Confirm({ loaderData, actionData }: Route.ComponentProps) {
  const { done, name, address, isThem, isNew } = loaderData;
  if (done !== null)
    return (
      <Notice
        title="The address is yours"
        action={
          <Button variant="contained" href="/library">
            Go to the library
          </Button>
        }
      >
        {done === "new" ? `You sign in with ${address} from now on.` : "Now you can mail others from here."}
      </Notice>
    );
  if (!isThem)
    return (
      <Notice title={`Sign in as ${name}`}>
        You are signed in as somebody else. Sign out, sign in as {name}, and open the link again.
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
      {isNew
        ? `${name} signs in with ${address} from then on, and with the one before no more.`
        : `${name} signs in with ${address}; who is mailed answers to it.`}
    </Notice>
  );
}
