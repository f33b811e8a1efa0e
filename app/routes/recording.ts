import Joi from "joi";
import { data } from "react-router";
import { MOST_TAKES, TAKE_SPAN } from "#core/recipe/source-line";
import { chaptersField } from "#server/recordings/chapters";
import { askForm, inviteForm } from "#server/answers/forms";
import { isUuid, jsonField, uuidField } from "#server/http/fields";
import { sharesOutside } from "#server/access/require";
import type { SignedIn } from "#server/accounts/sessions";
import { Problem } from "#server/http/problem";
import type { ShareChange } from "#server/sharing/sharing";
import { consentForm, sendForm, shareForm } from "#server/sharing/forms";
import { descriptionField, tagsField, titleField } from "#server/recordings/takes";
import { ownFigures } from "../services/guard.server";
import { orRefused, readFields, refused } from "../services/fields.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/recording";

const orderField = Joi.array()
  .items(Joi.number().strict().integer().min(1).max(MOST_TAKES))
  .min(2)
  .max(MOST_TAKES)
  .unique();

const aboutField = Joi.object({ description: descriptionField.required(), tags: tagsField.required() });

/** A moment of the source line, as a form has it. */
const momentField = Joi.number()
  .integer()
  .min(0)
  .max(MOST_TAKES * TAKE_SPAN);

const form = Joi.object({
  do: Joi.string()
    .valid(
      "rename",
      "share",
      "new-link",
      "shorten",
      "send",
      "remind",
      "new-personal-link",
      "delete",
      "restore",
      "erase",
      "ask",
      "close-ask",
      "invite",
      "uninvite",
      "describe",
      "chapters",
      "set-chapters",
      "poster",
      "reorder",
      "leave-out",
      "put-back",
      "as-recorded",
      "consent",
      "spare",
      "end-take",
      "erase-discarded",
    )
    .required(),
  title: Joi.when("do", { is: "rename", then: titleField }),
  /** what is replaced, as the person has seen it */
  version: Joi.when("do", { is: Joi.valid("rename", "ask"), then: Joi.number().integer().min(0).required() }),
  description: Joi.when("do", { is: "describe", then: descriptionField.required() }),
  tags: Joi.when("do", { is: "describe", then: jsonField("The tags", tagsField, 2_000) }),
  /** what is replaced, as the person has seen it */
  before: Joi.when("do", { is: "describe", then: jsonField("What it was about", aboutField, 20_000) }),
  ask: Joi.when("do", { is: "ask", then: jsonField("The ask", askForm, 4_000) }),
  closed: Joi.when("do", { is: "close-ask", then: Joi.boolean().required() }),
  chapters: Joi.when("do", { is: "set-chapters", then: jsonField("The chapters", chaptersField, 16_000) }),
  /** those that are replaced, as the person has seen them */
  replaced: Joi.when("do", { is: "set-chapters", then: jsonField("The chapters before", chaptersField, 16_000) }),
  /** a moment of the source line; without one it is chosen by itself */
  at: Joi.when("do", { is: "poster", then: momentField.optional() }),
  takes: Joi.when("do", { is: "reorder", then: jsonField("The order", orderField, 1_000) }),
  /** the revision that is changed, as the person has seen it */
  seen: Joi.when("do", {
    is: Joi.valid("reorder", "leave-out", "put-back", "as-recorded"),
    then: Joi.number().integer().min(1).required(),
  }),
  from: Joi.when("do", { is: Joi.valid("leave-out", "put-back"), then: momentField.required() }),
  to: Joi.when("do", { is: Joi.valid("leave-out", "put-back"), then: momentField.required() }),
  who: Joi.when("do", { is: "invite", then: inviteForm.extract("who") }),
  words: Joi.when("do", { is: "send", then: sendForm.words }),
  others: Joi.when("do", { is: "consent", then: consentForm.others }),
  spared: Joi.when("do", { is: "spare", then: Joi.boolean().required() }),
  agreed: Joi.when("do", { is: "consent", then: consentForm.agreed }),
  mailTo: Joi.when("do", { is: "send", then: jsonField("Whom to mail", sendForm.to, 40_000) }),
  invite: Joi.when("do", { is: Joi.valid("uninvite", "new-personal-link"), then: uuidField.required() }),
});

const EDITS = new Set(["leave-out", "put-back", "as-recorded"]);
const ANSWERS = new Set(["ask", "close-ask", "invite", "uninvite", "remind"]);
const SHARES = new Set(["share", "new-link", "shorten", "send", "new-personal-link"]);

/** What can be done with one recording from the library, the recorder or its own page. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const fields = await orRefused(readFields(request));
  const { value, error } = form.validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  if (!isUuid(params.id))
    return data({ error: "This recording is not there any more, or not yours." }, { status: 404 });
  const { library } = runtime;
  try {
    if (value.do === "rename") await library.rename(member, params.id, value.title, value.version);
    if (value.do === "describe") await library.describe(member, params.id, value, value.before);
    if (value.do === "chapters") await library.takeChapters(member, params.id);
    if (value.do === "set-chapters") await library.setChapters(member, params.id, value.chapters, value.replaced);
    if (value.do === "poster") {
      await runtime.limits.take("edit", { viewer: member.id, address: app.address });
      await runtime.posters.choose(member, params.id, value.at ?? null);
    }
    if (SHARES.has(value.do)) return data({ error: null, ...(await share(app, member, params.id, value, fields)) });
    if (value.do === "consent") {
      await runtime.limits.take("share", { viewer: member.id, address: app.address });
      await runtime.sharing.noteConsent(member, params.id, { who: value.others, agreed: value.agreed });
    }
    if (value.do === "spare") await library.spare(member, params.id, value.spared);
    if (value.do === "end-take") {
      await runtime.takes.endHere((await ownFigures(app, member, params.id)).id);
    }
    if (value.do === "erase-discarded") {
      await runtime.discarded.clear(new Date(), (await ownFigures(app, member, params.id)).id);
    }
    if (value.do === "delete") await library.delete(member, params.id);
    if (value.do === "restore") await library.restore(member, params.id);
    if (value.do === "erase") await library.erase(member, params.id);
    if (value.do === "reorder") {
      const { id } = await ownFigures(app, member, params.id);
      await runtime.editing.reorder(id, value.takes, value.seen);
    }
    if (EDITS.has(value.do)) {
      const { id } = await ownFigures(app, member, params.id);
      await runtime.limits.take("edit", { viewer: member.id, address: app.address });
      await runtime.editing.change(id, value, value.seen);
    }
    if (ANSWERS.has(value.do)) {
      const recording = await ownFigures(app, member, params.id);
      await runtime.limits.take("invite", { viewer: member.id, address: app.address });
      if (value.do === "ask") await runtime.asks.set(recording.id, value.ask, value.version);
      if (value.do === "close-ask") await runtime.asks.close(recording.id, value.closed);
      if (value.do === "invite") {
        const outside = sharesOutside(member, recording.workspaceId);
        await runtime.invites.add(recording.id, value.who, outside);
      }
      if (value.do === "remind") return data({ error: null, reminded: await remind(app, member, recording.id) });
      if (value.do === "uninvite") await runtime.invites.remove(recording.id, value.invite);
    }
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}

/** @returns how many were reminded */
async function remind({ runtime, address }: AppContext, member: SignedIn, id: string): Promise<number> {
  const whom = await runtime.reminders.whom(id);
  await runtime.limits.take("send", { viewer: member.id, address }, whom.length);
  return runtime.reminders.remind(id, whom);
}

/** Who may open it, and how it reaches them. @returns what the page is told besides */
async function share(
  app: AppContext,
  member: SignedIn,
  id: string,
  value: { do: string; invite: string; words: string; mailTo: string[] },
  fields: Record<string, string>,
): Promise<{ token?: string; sent?: number }> {
  const { sharing, sender, limits } = app.runtime;
  const from = { viewer: member.id, address: app.address };
  await limits.take("share", from);
  if (value.do === "new-link") return { token: await sharing.newLink(member, id) };
  if (value.do === "shorten") await sharing.shorten(member, id);
  if (value.do === "share") {
    const { value: change, error } = shareForm.validate(fields, { stripUnknown: true });
    if (error) throw new Problem(422, "not-valid", error.message);
    await sharing.change(member, id, change as ShareChange);
  }
  if (value.do === "new-personal-link") {
    const recording = await ownFigures(app, member, id);
    await sender.newPersonalLink(recording.id, value.invite);
  }
  if (value.do === "send") {
    const recording = await ownFigures(app, member, id);
    const people = await sender.toMail(recording.id, value.mailTo);
    if (people.length > 0) await limits.take("send", from, people.length);
    return { sent: await sender.send(member, recording.id, { people, words: value.words }) };
  }
  return {};
}
