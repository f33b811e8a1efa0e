import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { Form } from "react-router";
import type { Refusal } from "#core/mail/kinds";
import { Notice } from "../components/Notice";
import { readFields } from "../services/fields.server";
import { orNotFound } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/no-mail";

export const meta: Route.MetaFunction = () => [
  { title: "No more mail · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { post } = context.get(appContext).runtime;
  const { address, what } = await orNotFound(Promise.resolve().then(() => post.refusalBy(params.link)));
  return { address, what, refuses: await post.refuses(address, what) };
}

/** By a press here, or by the mail program's own (RFC 8058: a POST, at once, without cookies). */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { post } = context.get(appContext).runtime;
  const fields = await orNotFound(readFields(request));
  await orNotFound(post.setRefusal(params.link, fields.again !== "yes"));
  return { done: true };
}

const WORDS: Record<Refusal, Record<"ended" | "ends", (address: string) => string>> = {
  sent: {
    ended: (address) => `Nothing that others send is mailed to ${address}. Codes, and links that you ask for, are.`,
    ends: (address) =>
      `Recordings that are sent to ${address} are not mailed any more, whoever sends them. Their links go on working.`,
  },
  news: {
    ended: (address) => `No news is mailed to ${address}. What others send is.`,
    ends: (address) => `What is new is not mailed to ${address} any more. What others send is.`,
  },
};

export default function NoMail({ loaderData, actionData }: Route.ComponentProps) {
  const { address, what, refuses } = loaderData;
  const { ended, ends } = WORDS[what];
  return (
    <Notice
      title={refuses ? "No more of this mail" : "Do you want no more mail like this?"}
      action={
        <Form method="post">
          {refuses && <input type="hidden" name="again" value="yes" />}
          <Button type="submit" variant={refuses ? "outlined" : "contained"}>
            {refuses ? "Mail me again" : "No more mail"}
          </Button>
          {actionData && (
            <Alert severity="success" role="status" sx={{ mt: 2 }}>
              Done.
            </Alert>
          )}
        </Form>
      }
    >
      {refuses ? ended(address) : ends(address)}
    </Notice>
  );
}
