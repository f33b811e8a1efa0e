import { shownForm } from "#server/notices/push";
import { Problem } from "#server/http/problem";
import { answerJson } from "../services/json.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/shown";

/** A browser says that it has shown what it was told: that is not mailed any more. */
export async function action({ context, request }: Route.ActionArgs) {
  const { member, address, runtime } = context.get(appContext);
  return answerJson<{ id: string }>(request, shownForm, async ({ id }) => {
    if (!member) throw new Problem(401, "signed-out", "You are signed out.");
    await runtime.limits.take("shown", { viewer: member.id, address });
    await runtime.post.shown(member.id, id);
    return {};
  });
}
