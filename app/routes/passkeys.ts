import { passkeyForm, type PasskeyDeed } from "#server/accounts/passkeys";
import { Problem } from "#server/http/problem";
import { browserOf } from "../services/browser.server";
import { answerJson } from "../services/json.server";
import { ownPath } from "../services/guard.server";
import { entered } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/passkeys";

/** What the pages of signing in, and of the account, ask and say of passkeys. */
export async function action({ context, request, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, address, runtime } = app;
  const { passkeys, limits } = runtime;
  let cookies = new Headers();
  const signedIn = () => {
    if (member) return member;
    throw new Problem(401, "signed-out", "You are signed out. Sign in, then try again.");
  };
  return answerJson<PasskeyDeed>(
    request,
    passkeyForm,
    async (deed) => {
      if (!passkeys.offered) throw new Problem(404, "not-found", "There are no passkeys at this address.");
      await limits.take("passkey", { viewer: member?.id ?? address, address });
      switch (deed.do) {
        case "begin":
          return passkeys.begin();
        case "enter": {
          const { personId, email } = await passkeys.enter(deed.response);
          cookies = await entered(app, personId, email);
          return { to: ownPath(url.searchParams.get("to")) };
        }
        case "begin-add":
          return passkeys.beginAdding(signedIn(), deed.current, address);
        case "add":
          await passkeys.add(signedIn(), deed.response, browserOf(app.agent));
          return {};
      }
    },
    () => cookies,
  );
}
