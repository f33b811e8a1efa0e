import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Form, isRouteErrorResponse, Link, redirect, useNavigation } from "react-router";
import { Notice } from "../components/Notice";
import { Trouble } from "../components/Trouble";
import { refused } from "../services/fields.server";
import { orNotFound } from "../services/guard.server";
import { ROLE_WORDS } from "../workspace/words";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/join";
import { FormError } from "../components/FormError";

export const meta: Route.MetaFunction = () => [
  { title: "Join a workspace · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { workspaceId, workspaceName, role, madeBy } = await orNotFound(app.runtime.workspaces.linkOf(params.token));
  return {
    workspaceName,
    role,
    madeBy,
    token: params.token,
    name: app.member?.name ?? null,
    belongs: app.member?.memberships.some((m) => m.workspaceId === workspaceId) ?? false,
  };
}

export async function action({ context, params, url }: Route.ActionArgs) {
  const { member, runtime, sessionToken } = context.get(appContext);
  if (!member || !sessionToken) throw redirect(`/sign-in?to=${encodeURIComponent(url.pathname)}`);
  try {
    const workspaceId = await runtime.workspaces.join(member.id, params.token);
    await runtime.sessions.choose(sessionToken, workspaceId);
    return redirect("/library");
  } catch (problem) {
    return refused(problem);
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  if (!isRouteErrorResponse(error) || error.status !== 404) return <Trouble error={error} />;
  return (
    <Notice title="This link is closed">
      It does not lead into a workspace any more. Ask whoever sent it for a new one.
    </Notice>
  );
}

export default function Join({ loaderData, actionData }: Route.ComponentProps) {
  const { workspaceName, role, madeBy, token, name, belongs } = loaderData;
  const busy = useNavigation().state !== "idle";
  const to = `/join/${token}`;
  return (
    <Box sx={{ maxWidth: 480, mx: "auto", px: 2, py: { xs: 4, md: 8 } }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Join {workspaceName}
      </Typography>
      <Typography sx={{ mb: 3 }}>
        {madeBy ? `${madeBy} made this link.` : "This link leads into a workspace."} Whoever joins by it{" "}
        {ROLE_WORDS[role]}.
      </Typography>
      <FormError error={actionData?.error} sx={{ mb: 2 }} />
      {name ? (
        <Form method="post">
          <Button type="submit" variant="contained" size="large" fullWidth disabled={busy}>
            {belongs ? "You belong to it: go there" : `Join as ${name}`}
          </Button>
        </Form>
      ) : (
        <Box sx={{ display: "grid", gap: 1.5 }}>
          <Button component={Link} to={`/sign-up?join=${token}`} variant="contained" size="large">
            Make an account
          </Button>
          <Button component={Link} to={`/sign-in?to=${encodeURIComponent(to)}`} variant="outlined" size="large">
            I have an account
          </Button>
        </Box>
      )}
    </Box>
  );
}
