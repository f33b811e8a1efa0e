import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Form, Link, redirect, useSearchParams } from "react-router";
import { signInForm } from "#server/accounts/accounts";
import { PasskeyButton } from "../account/PasskeyButton";
import { Portrait } from "../components/Arch";
import { FormPage } from "../components/FormPage";
import { readFields } from "../services/fields.server";
import { ownPath, readForm, refusal } from "../services/guard.server";
import { enter } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/sign-in";

export const meta: Route.MetaFunction = () => [{ title: "Sign in · Clear Nod" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  if (app.member) throw redirect(ownPath(url.searchParams.get("to")));
  const { passkeys } = app.runtime;
  return {
    byPasskey: passkeys.offered,
    open: await app.runtime.accounts.isOpen(),
    demo: app.runtime.demo.map(({ name, email, role }) => ({ name, email, role })),
  };
}

export async function action({ context, request, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { accounts, computers, demo } = app.runtime;
  const to = ownPath(url.searchParams.get("to"));
  const signIn = async (given: { email: string; password: string }) => {
    const computer = computers.knownFor(app.computerCookie, given.email);
    const personId = await accounts.signIn(given, { address: app.address, computer });
    return enter(app, personId, given.email, to);
  };
  let email = "";
  try {
    const fields = await readFields(request);
    const person = demo.find((p) => p.email === fields.demo);
    if (person) return await signIn(person);
    const form = readForm<{ email: string; password: string }>(fields, signInForm);
    if ("failure" in form) return form.failure;
    email = form.value.email;
    return await signIn(form.value);
  } catch (problem) {
    return refusal(problem, { email });
  }
}

export default function SignIn({ actionData, loaderData }: Route.ComponentProps) {
  const [query] = useSearchParams();
  const to = query.get("to");
  return (
    <FormPage
      title="Sign in"
      button="Sign in"
      failure={actionData}
      fields={[
        { name: "email", label: "E-mail address", type: "email", autoComplete: "username", autoFocus: true },
        { name: "password", label: "Password", type: "password", autoComplete: "current-password" },
      ]}
    >
      {loaderData.byPasskey && <PasskeyButton to={to} />}
      <Link to="/forgot">I have forgotten my password</Link>
      <br />
      {loaderData.open && (
        <>
          New here? <Link to={to ? `/sign-up?to=${encodeURIComponent(to)}` : "/sign-up"}>Start a workspace</Link>
        </>
      )}
      {loaderData.demo.length > 0 && <SamplePeople people={loaderData.demo} />}
    </FormPage>
  );
}

/** In the sample, one press signs in. */
function SamplePeople({ people }: { people: { name: string; email: string; role: string }[] }) {
  return (
    <Box
      component="section"
      aria-label="The sample practice"
      sx={{ mt: 4, pt: 2, borderTop: "1px solid", borderColor: "mist" }}
    >
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        Look around in the sample practice
      </Typography>
      <Form method="post">
        {people.map(({ name, email, role }) => (
          <Button
            key={email}
            type="submit"
            name="demo"
            value={email}
            fullWidth
            sx={{
              justifyContent: "flex-start",
              gap: 1.5,
              color: "text.primary",
              borderBottom: "1px solid",
              borderColor: "mist",
              py: 1,
            }}
          >
            <Portrait name={name} />
            <span>
              {name},{" "}
              <Box component="span" sx={{ color: "text.secondary", fontWeight: 400 }}>
                {role}
              </Box>
            </span>
          </Button>
        ))}
      </Form>
    </Box>
  );
}
