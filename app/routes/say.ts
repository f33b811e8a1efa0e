import { sayForm } from "#server/answers/forms";
import type { Said } from "#server/answers/sayings";
import { answerable, answerJson, whoOf } from "../services/json.server";
import type { Route } from "./+types/say";

/** A viewer says something: a comment, a reaction, an answer, their name. */
export async function action({ context, request, params }: Route.ActionArgs) {
  return answerJson<Said>(request, sayForm, async (said) =>
    context.runtime.sayings.say(await answerable(context, params.token), whoOf(context), said),
  );
}
