import { sayForm } from "#server/answers/forms";
import type { Said } from "#server/answers/sayings";
import { answerable, answerJson, whoOf } from "../services/json.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/say";

/** A viewer says something: a comment, a reaction, an answer, their name. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  return answerJson<Said>(request, sayForm, async (said) =>
    app.runtime.sayings.say(await answerable(app, params.token), whoOf(app), said),
  );
}
