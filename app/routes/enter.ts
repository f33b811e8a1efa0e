import { data } from "react-router";
import { Problem } from "#server/http/problem";
import type { Behind } from "#server/sharing/doors";
import { enterForm } from "#server/sharing/forms";
import { readFields, refused } from "../services/fields.server";
import { passesCookie } from "../services/session.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/enter";

type Shown =
  | { do: "password"; password: string }
  | { do: "ask-code"; address: string }
  | { do: "code"; address: string; code: string };

/** Somebody shows at a closed link, or before a folder, what opens it: a password, or a code that they were mailed. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  try {
    const { value, error } = enterForm.validate(await readFields(request), { stripUnknown: true });
    if (error) throw new Problem(422, "not-valid", error.message);
    const behind: Behind = params.id === undefined ? { token: params.token! } : { folder: params.id };
    const pass = await passOf(app, behind, value as Shown);
    if (!pass) return data({ error: null });
    const cookie = passesCookie(app, app.runtime.passes.add(app.passesCookie, pass));
    return data({ error: null }, { headers: { "set-cookie": cookie } });
  } catch (problem) {
    return refused(problem);
  }
}

async function passOf({ runtime, subject, member, address }: AppContext, behind: Behind, shown: Shown) {
  const { doors, access } = runtime;
  switch (shown.do) {
    case "password": {
      const { door, recording } = await access.find(subject, "token" in behind ? behind.token : "");
      if (door !== "password")
        throw new Problem(409, "no-password", "No password is asked for here. Load the page anew.");
      return doors.password(recording, shown.password, address);
    }
    case "ask-code":
      await doors.askCode(behind, shown.address, address);
      return null;
    case "code": {
      const given = { mailAddress: shown.address, code: shown.code, personId: member?.id ?? null };
      return doors.code(behind, given, address);
    }
  }
}
