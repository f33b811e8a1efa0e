import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { resetForm, type AccessGiven } from "#server/accounts/account";
import { FormPage } from "../components/FormPage";
import { Day } from "../components/When";
import { OldLink } from "../components/OldLink";
import { readFields } from "../services/fields.server";
import { orNotFound, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/reset";

/** How a field is called that keeps something; its id follows. */
const KEEP = "keep-";

export const meta: Route.MetaFunction = () => [
  { title: "A new password · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { account } = context.get(appContext).runtime;
  const { personId, name } = await orNotFound(account.ofReset(params.token));
  return { name, accesses: await account.accessesOf(personId) };
}

/** Only a press sets it: programs that look into mail open links as well. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  try {
    const fields = await readFields(request);
    const form = readForm<{ password: string }>(fields, resetForm);
    if ("failure" in form) return form.failure;
    const kept = Object.keys(fields).flatMap((name) => (name.startsWith(KEEP) ? [name.slice(KEEP.length)] : []));
    const { personId, email } = await app.runtime.account.reset(params.token, { ...form.value, kept });
    return await enter(app, personId, email, "/library");
  } catch (problem) {
    return refusal(problem);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <OldLink error={error} again="/forgot" />;
}

const KINDS: Record<AccessGiven["kind"], string> = {
  program: "API token",
  hook: "Webhook",
  feed: "Feed of a folder",
  passkey: "Passkey",
};

/** What else gets in, or is told: all of it ends, but for what is ticked. */
function Accesses({ accesses }: { accesses: AccessGiven[] }) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mt: 2 }}>
      <Typography component="legend" sx={{ fontWeight: 600, mb: 0.5, p: 0 }}>
        These also have access to your account
      </Typography>
      <Typography variant="body2" color="text.secondary">
        They end now. Tick what you want to keep: only what you made yourself.
      </Typography>
      {accesses.map(({ kind, id, name, madeAt }) => (
        <FormControlLabel
          key={`${kind} ${id}`}
          sx={{ display: "flex", overflowWrap: "anywhere" }}
          control={<Checkbox name={`${KEEP}${id}`} />}
          label={
            <>
              {KINDS[kind]} {name}, made <Day day={madeAt.slice(0, 10)} />
            </>
          }
        />
      ))}
    </Box>
  );
}

export default function Reset({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <FormPage
      title={`A new password, ${loaderData.name}`}
      button="Set it, and sign in"
      failure={actionData}
      more={loaderData.accesses.length > 0 && <Accesses accesses={loaderData.accesses} />}
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
