import { visitForm } from "#server/answers/forms";
import type { Visit } from "#server/answers/viewers";
import { answerable, answerJson, whoOf } from "../services/json.server";
import { guestCookie } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/visit";

/**
 * A page of a recording was opened in a browser that runs it. Do Not Track and Global Privacy Control are obeyed:
 * counted, not named.
 */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { asks, viewers, limits } = app.runtime;
  const asksNotToBe = request.headers.get("sec-gpc") === "1" || request.headers.get("dnt") === "1";
  let newKey: string | null = null;
  return answerJson<Visit>(
    request,
    visitForm,
    async (visit) => {
      const recording = await answerable(app, params.token);
      const { address, member } = app;
      const known = member?.id ?? (await viewers.find(recording, whoOf(app)))?.id;
      await limits.take(known ? "visit" : "newcomer", { viewer: known ?? address, address });
      const made = await viewers.visit(recording, whoOf(app), { ...visit, named: visit.named && !asksNotToBe });
      newKey = made.newKey;
      const { id, name, named, isSender, isMember, needsName, mayComment } = made.viewer;
      const me = { id, name, named, isSender, isMember, needsName, mayComment };
      if (!app.embedded) return { me };
      // Where an embed's cookie is not taken, it says itself who it is, and learns what it has answered with that.
      return { me, answer: await asks.answerOf(recording.id, id), ...(newKey !== null && { key: newKey }) };
    },
    (): Record<string, string> => (newKey ? { "set-cookie": guestCookie(app, newKey) } : {}),
  );
}
