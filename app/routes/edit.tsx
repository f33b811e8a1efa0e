import { lengthOf } from "#core/recipe/edits";
import { Link } from "react-router";
import { EditPage } from "../edit/EditPage";
import { Notice } from "../components/Notice";
import { useRefresh } from "../components/useRefresh";
import { appContext } from "../services/context.server";
import { orNotFound, requireMember } from "../services/guard.server";
import type { Route } from "./+types/edit";

const AGAIN_MS = 2_000;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `Edit ${loaderData.title} · Clear Nod` : "Nothing here · Clear Nod" },
  { name: "robots", content: "noindex" },
];

/** Everything as it was recorded, what is shown of it, and what its owner is working on. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { runtime } = app;
  const member = requireMember(app, new URL(request.url));
  const { id, token } = await orNotFound(runtime.access.requireById(member, "change", params.id));
  const details = await runtime.library.details(id);
  const { kept, dress, takes, revision, whole } = await orNotFound(runtime.editing.stretches(id));
  const { chapters, captions, posterAt, posterOwn } = await runtime.library.written(id);
  const proposedChapters = chapters.length === 0 ? (await runtime.library.noted(id)).chapters : [];
  const { title, hasPoster, sender, createdAt } = details;
  const about = { id, token, title, hasPoster, sender, createdAt, chapters, proposedChapters, posterAt, posterOwn };
  if (!whole || lengthOf(takes) === 0) return { ...about, edit: null };
  await orNotFound(runtime.editing.recorded(id));
  const [recorded, draft, looks, comments, discarded] = await Promise.all([
    runtime.playback.recorded(id),
    runtime.drafts.of(id),
    runtime.looks.of(id),
    runtime.comments.recorded(id),
    runtime.discarded.of(id),
  ]);
  const edit = recorded && { recorded, kept, dress, takes, revision, draft, looks, comments, captions, discarded };
  return { ...about, edit };
}

export default function Edit({ loaderData: { edit, ...about } }: Route.ComponentProps) {
  useRefresh(!edit, AGAIN_MS);
  if (!edit)
    return (
      <Notice title="Not all of it is here yet">
        A take is still being recorded, or on its way. When all of it is here, it opens here by itself.{" "}
        <Link to={`/w/${about.token}`}>To the recording</Link>
      </Notice>
    );
  // With another take it is another line.
  return <EditPage key={`${about.id} ${edit.takes.length}`} {...about} {...edit} />;
}
