import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { data } from "react-router";
import { accountForms } from "#server/accounts/account";
import { endAccountForm } from "#server/accounts/leaving";
import { passkeyForms } from "#server/accounts/passkeys";
import { noPortraitForm } from "#server/accounts/portraits";
import { programForms } from "#server/accounts/programs";
import { hookForms } from "#server/hooks/hooks";
import { pushForms } from "#server/notices/push";
import { wishesForm } from "#server/notices/wishes";
import { EndFold } from "../account/EndFold";
import { Fold } from "../account/Fold";
import { HooksFold } from "../account/HooksFold";
import { NoticesFold } from "../account/NoticesFold";
import { PasskeysFold } from "../account/PasskeysFold";
import { PortraitFold } from "../account/PortraitFold";
import { ProgramsFold } from "../account/ProgramsFold";
import { SignIns } from "../account/SignIns";
import { Folded } from "../components/Folded";
import { browserOf } from "../services/browser.server";
import { orRefused, readFields, refused } from "../services/fields.server";
import { requireMember } from "../services/guard.server";
import { leave } from "../services/session.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/account";

export const meta: Route.MetaFunction = () => [{ title: "Your account · Clear Nod" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { id, name, email, portrait, workspaceName } = requireMember(app, url);
  const { runtime } = app;
  const [sessions, wishes, passkeys, programs, hooks] = await Promise.all([
    runtime.sessions.of(id),
    runtime.wishes.of(id),
    runtime.passkeys.of(id),
    runtime.programs.of(id),
    runtime.hooks.of(id),
  ]);
  const here = sessionOf(app);
  return {
    name,
    email,
    portrait,
    mails: app.mails,
    wishes,
    push: { key: runtime.push.publicKey, here: sessions.some(({ id, tells }) => tells && id === here) },
    passkeys: runtime.passkeys.offered ? passkeys.map(({ transports: _, ...line }) => line) : null,
    programs,
    hooks,
    workspace: workspaceName,
    signIns: sessions.map(({ id, agent, createdAt, lastAt, tells }) => ({
      id,
      where: browserOf(agent),
      here: id === here,
      tells,
      createdAt: createdAt.toISOString(),
      lastAt: lastAt.toISOString(),
    })),
  };
}

const sessionOf = ({ runtime, sessionToken }: AppContext) => runtime.sessions.idOf(sessionToken!);

const forms = {
  ...accountForms,
  ...passkeyForms,
  ...programForms,
  ...hookForms,
  ...pushForms,
  notices: wishesForm,
  "no-portrait": noPortraitForm,
  "end-account": endAccountForm,
};

/** These send something, or let it be sent. */
const HOOKED = new Set(["make-hook", "try-hook"]);

export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, runtime, address } = app;
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { do: deed = "", ...fields } = await orRefused(readFields(request));
  if (!Object.hasOwn(forms, deed)) return data({ error: "There is nothing of that name to be done." }, { status: 422 });
  const { value, error } = forms[deed as keyof typeof forms].validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  const { account, sessions } = runtime;
  const session = sessionOf(app);
  try {
    if (deed === "name") await account.rename(member, value.name);
    if (deed === "password") await account.changePassword(member, value, { session, address });
    if (deed === "address") await account.askAddress(member, value, address);
    if (deed === "notices") {
      await runtime.limits.take("folder", { viewer: member.id, address });
      await runtime.wishes.save(member, value.wishes);
    }
    if (deed === "push") {
      await runtime.limits.take("edit", { viewer: member.id, address });
      await runtime.push.start(session, value.subscription);
    }
    if (deed === "no-push") await runtime.push.end(session);
    if (HOOKED.has(deed)) await runtime.limits.take("hook", { viewer: member.id, address });
    if (deed === "make-hook") return data({ error: null, secret: await runtime.hooks.make(member, value) });
    if (deed === "try-hook") await runtime.hooks.try(member.id, value.hook);
    if (deed === "end-hook") await runtime.hooks.end(member.id, value.hook);
    if (deed === "make-program") {
      await runtime.limits.take("edit", { viewer: member.id, address });
      return data({ error: null, secret: await runtime.programs.make(member, value, address) });
    }
    if (deed === "end-passkey") await runtime.passkeys.end(member, value.passkey);
    if (deed === "end-program") await runtime.programs.end(member.id, value.program);
    if (deed === "no-portrait") await runtime.portraits.drop(member);
    if (deed === "end-account") {
      await runtime.leaving.end(member, value, address);
      return await leave(app);
    }
    if (deed === "end-session") await sessions.endOf(member.id, { only: value.session });
    if (deed === "end-others") await sessions.endOf(member.id, { allBut: session });
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}

const CURRENT = {
  name: "current",
  label: "The password that you have now",
  type: "password",
  autoComplete: "current-password",
};

export default function AccountPage({ loaderData }: Route.ComponentProps) {
  const { name, email, portrait, mails, wishes, push, passkeys, programs, hooks, workspace, signIns } = loaderData;
  return (
    <Box sx={{ maxWidth: 720, mx: "auto", px: { xs: 1.5, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Your account
      </Typography>
      <Fold
        key={name}
        title="Name"
        now={name}
        deed="name"
        fields={[{ name: "name", label: "Your name", autoComplete: "name", defaultValue: name }]}
        button="Change it"
        done="Changed. It stands so at everything that you have said as well."
      />
      <PortraitFold name={name} digest={portrait} />
      {mails && (
        <Fold
          title="Address"
          now={email}
          deed="address"
          fields={[{ name: "email", label: "The new address", type: "email", autoComplete: "email" }, CURRENT]}
          button="Mail a link there"
          done="A link is on its way to the new address. Press it, and the address is yours."
        />
      )}
      <Fold
        title="Password"
        now="set"
        deed="password"
        fields={[
          CURRENT,
          {
            name: "password",
            label: "The new password",
            type: "password",
            autoComplete: "new-password",
            helperText: "At least 10 characters. Everywhere else you are signed out.",
          },
        ]}
        button="Change it"
        done="Changed. Everywhere else you are signed out."
      />
      {passkeys && <PasskeysFold passkeys={passkeys} />}
      <NoticesFold wishes={wishes} push={push} mails={mails} />
      <ProgramsFold programs={programs} workspace={workspace} />
      <HooksFold hooks={hooks} workspace={workspace} />
      <Folded title="Everything of yours" value="as one file">
        <Typography>
          What you have made, as it was recorded, with what came back, and what you have said: a ZIP archive with videos
          (MP4), captions (WebVTT), comments (Web Annotation), viewing (xAPI) and JSON. It takes as long as the videos
          are large.
        </Typography>
        <Button variant="outlined" href="/account/everything.zip" sx={{ justifySelf: "start" }}>
          Save it
        </Button>
      </Folded>
      <EndFold />
      <SignIns all={signIns} />
    </Box>
  );
}
