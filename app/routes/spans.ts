import { spansForm } from "#server/answers/forms";
import { Problem } from "#server/http/problem";
import type { Report } from "#server/viewing/spans";
import { answerable, answerJson, whoOf } from "../services/json.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/spans";

/** A player reports what it played; by beacon too, when the page is left. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { viewers, limits, spans } = app.runtime;
  return answerJson<Report>(request, spansForm, async (report) => {
    const recording = await answerable(app, params.token);
    const viewer = await viewers.find(recording, whoOf(app));
    if (!viewer) throw new Problem(409, "not-opened", "Open the recording's page in this browser first.");
    await limits.take("spans", { viewer: viewer.id, address: app.address }, 1 + report.spans.length);
    await spans.take(recording.id, viewer, report);
    return {};
  });
}
