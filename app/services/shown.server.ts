import { isPublic } from "#core/access/access";
import type { KnownRecording } from "#server/access/facts";
import type { AppContext } from "./context.server";
import { whoOf } from "./json.server";

/** What a page at a link shows of its recording: what it is, what is played, what was said. */
export async function shownAt(app: AppContext, facts: KnownRecording) {
  const { runtime } = app;
  // The number first: what is in the lists and told again does no harm, what is in neither would be missed.
  const newest = await runtime.events.newest(facts.id);
  const [details, playable, comments, reactions, ask, viewer, brand] = await Promise.all([
    runtime.library.details(facts.id),
    runtime.playback.playable(facts.id, facts.token),
    runtime.commentPages.first(facts.id),
    runtime.reactions.list(facts.id),
    runtime.asks.of(facts.id),
    runtime.viewers.find(facts, whoOf(app)),
    runtime.brands.of(facts.workspaceId),
  ]);
  return {
    ...details,
    playable,
    brand,
    token: facts.token,
    link: `${runtime.settings.publicUrl}/w/${facts.token}`,
    /** whoever has the link may see what it is about, also in a preview of it */
    isPublic: isPublic(facts),
    served: { newest, revision: playable?.revision ?? null, ...comments, reactions, ask },
    answer: viewer && !viewer.isSender ? await runtime.asks.answerOf(facts.id, viewer.id) : null,
  };
}

export type Shown = Awaited<ReturnType<typeof shownAt>>;
