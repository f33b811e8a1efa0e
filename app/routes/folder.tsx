import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import Joi from "joi";
import { useSnackbar } from "notistack";
import { useEffect } from "react";
import { data, Link, redirect, useFetcher } from "react-router";
import { rightIn, type ColleaguesRight, type FolderRight } from "#core/access/folders";
import type { NoticeTime } from "#core/notices/wishes";
import type { SignedIn } from "#server/accounts/sessions";
import { folderForms, newsForm, type FolderAct } from "#server/folders/forms";
import type { LibraryRow } from "#server/recordings/rows";
import type { Runtime } from "#server/runtime";
import { LedgerRow } from "../components/LedgerRow";
import { useDeeds } from "../components/useDeeds";
import { FeedFold } from "../folders/FeedFold";
import { FolderNews } from "../folders/FolderNews";
import { FolderPeople } from "../folders/FolderPeople";
import { FolderSettings } from "../folders/FolderSettings";
import { Moving } from "../folders/Moving";
import { Shelf } from "../folders/Shelf";
import { closedDoor } from "../services/door.server";
import { appContext, type AppContext } from "../services/context.server";
import { orRefused, readFields, refused } from "../services/fields.server";
import { orNotFound } from "../services/guard.server";
import { Problem } from "#server/http/problem";
import { Door, NO_LINK } from "../watch/Door";
import type { Handle } from "./frame";
import type { Route } from "./+types/folder";

export const handle: Handle = { showsNews: true };

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.folder.name} · Clear Nod` : "Nothing here · Clear Nod" },
  { name: "robots", content: "noindex" },
];

const afterField = Joi.string().max(400).allow(null);

export async function loader({ context, params, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { runtime, subject, member } = app;
  const { feeds, folders, folderContents, folderPeople, settings } = runtime;
  const folder = await folders.require(subject, "see", params.id).catch((problem: unknown) => {
    if (!(problem instanceof Problem)) throw problem;
    throw closedDoor({ door: "nothing", recording: null });
  });
  const { value: after, error } = afterField.validate(url.searchParams.get("after"));
  if (error) throw data({ message: error.message }, { status: 400 });
  const right = rightIn(subject, folder);
  const [within, page, people, news, feed, brand] = await Promise.all([
    folders.within(folder),
    orNotFound(folderContents.page(subject, folder, after as string | null)),
    right === "manage" ? folderPeople.list(folder) : null,
    member ? null : folderPeople.newsFor(subject, folder.id),
    feeds.of(subject, folder),
    member ? null : runtime.brands.of(folder.workspaceId),
  ]);
  const { id, name, workspaceId, workspaceName, above, ownColleagues, colleagues } = folder;
  return {
    folder: { id, name, workspaceName, above, ownColleagues, colleagues },
    right,
    /** things are put and moved in the workspace that one looks at */
    here: member?.workspaceId === workspaceId,
    isMember: member !== null,
    unusedGo: member !== null && member.unusedDays !== null,
    within,
    page,
    after: after as string | null,
    people,
    news,
    feed,
    brand,
    base: settings.publicUrl,
    mails: app.mails,
  };
}

/** What the forms have, and where they come from. */
interface Fields {
  person: string;
  recording: string;
  may: FolderRight;
  who: string;
  name: string;
  to: string | null;
  colleagues: ColleaguesRight | null;
  address: string;
}
const ACTS: Record<FolderAct, (runtime: Runtime, member: SignedIn, id: string, fields: Fields) => unknown> = {
  rename: ({ folders }, member, id, { name }) => folders.rename(member, id, name),
  colleagues: ({ folders }, member, id, { colleagues }) => folders.openTo(member, id, colleagues),
  move: ({ folders }, member, id, { to }) => folders.move(member, id, to),
  remove: ({ folders }, member, id) => folders.remove(member, id),
  "take-out": ({ folderContents }, member, id, { recording }) => folderContents.takeOut(member, id, recording),
  "add-people": ({ folderPeople }, member, id, { who, may, address }) =>
    folderPeople.add(member, id, { who, may }, address),
  right: ({ folderPeople }, member, id, { person, may }) => folderPeople.change(member, id, { person, may }),
  "remove-person": ({ folderPeople }, member, id, { person }) => folderPeople.remove(member, id, person),
  "new-link": ({ folderPeople }, member, id, { person }) => folderPeople.newLink(member, id, person),
};

export async function action({ context, request, params }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, runtime, address } = app;
  const { do: deed = "", ...fields } = await orRefused(readFields(request));
  if (deed === "news") return setNews(app, params.id, fields);
  if (deed === "make-feed" || deed === "end-feed") return setFeed(app, params.id, deed);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  if (!Object.hasOwn(folderForms, deed))
    return data({ error: "There is nothing of that name to be done." }, { status: 422 });
  const { value, error } = folderForms[deed as FolderAct].validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    const from = { viewer: member.id, address };
    await runtime.limits.take(deed === "add-people" ? "invite" : "folder", from);
    const act = ACTS[deed as FolderAct];
    const told = await act(runtime, member, params.id, { ...(value as Fields), address });
    if (deed === "remove") return redirect("/library");
    return data({ error: null, ...(told as object | undefined) });
  } catch (problem) {
    return refused(problem);
  }
}

/** Who asks, for limits: a class behind one address is many, each with a personal link. */
const asker = ({ member, subject, address }: AppContext): string =>
  member?.id ?? subject?.passes?.at(-1)?.of ?? address;

/** A client wants to be mailed at other times. */
async function setNews(app: AppContext, id: string, fields: Record<string, string>) {
  const { runtime, subject, address } = app;
  const { value, error } = newsForm.validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    await runtime.limits.take("folder", { viewer: asker(app), address });
    await runtime.folderPeople.setNews(subject, id, value as { news: NoticeTime; zone: string });
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}

/** Whoever sees it has a feed of it, or wants none any more. */
async function setFeed(app: AppContext, id: string, deed: "make-feed" | "end-feed") {
  const { subject, address } = app;
  const { feeds, limits, settings } = app.runtime;
  try {
    await limits.take("folder", { viewer: asker(app), address });
    if (deed === "make-feed")
      return data({ error: null, feed: `${settings.publicUrl}/feeds/${await feeds.make(subject, id)}` });
    await feeds.end(subject, id);
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}

export default function Folder({ loaderData }: Route.ComponentProps) {
  const { folder, right, here, isMember, unusedGo, within, page, after, people, news, feed, base, mails } = loaderData;
  const deed = useDeeds();
  const takeOut = useTakeOut(folder);
  const adds = here && right !== "view";
  return (
    <Box sx={{ maxWidth: 1240, mx: "auto", px: { xs: 0, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Box sx={{ px: { xs: 1.5, sm: 0 }, mb: 2 }}>
        <Box component="nav" aria-label="Where this folder lies" sx={{ color: "text.secondary" }}>
          {isMember && here ? <Link to="/library">Library</Link> : folder.workspaceName}
          {folder.above.map(({ id, name }) => (
            <span key={id}>
              {" / "}
              <Link to={`/f/${id}`}>{name}</Link>
            </span>
          ))}
        </Box>
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {folder.name}
        </Typography>
      </Box>
      <Moving rows={page.rows} here={folder.id}>
        <Shelf {...within} newIn={adds ? folder.id : undefined} />
        {page.rows.length > 0 ? (
          <section aria-labelledby="recordings">
            <Typography id="recordings" variant="h2" sx={{ px: { xs: 1.5, sm: 0 }, mb: 1 }}>
              Recordings
            </Typography>
            <Box
              component="ul"
              sx={{ listStyle: "none", m: 0, p: 0, border: "1px solid", borderTop: 0, borderColor: "mist" }}
            >
              {page.rows.map((row) => (
                <LedgerRow
                  key={row.id}
                  row={row}
                  link={isMember ? `${base}/w/${row.token}` : null}
                  onDeed={deed}
                  unusedGo={unusedGo}
                  onTakeOut={right === "manage" && here && !row.mine ? takeOut : undefined}
                />
              ))}
            </Box>
          </section>
        ) : (
          <Nothing adds={adds} isMember={isMember} />
        )}
      </Moving>
      <Box sx={{ display: "flex", gap: 2, px: { xs: 1.5, sm: 0 }, my: 2 }}>
        {after && (
          <Button component={Link} to={`/f/${folder.id}`}>
            Back to the first page
          </Button>
        )}
        {page.next && (
          <Button component={Link} to={`?after=${page.next}`} variant="outlined">
            Next page
          </Button>
        )}
      </Box>
      {news && <FolderNews news={news} />}
      <Box sx={{ px: { xs: 1.5, sm: 0 }, maxWidth: 820 }}>
        {people && <FolderPeople folder={folder} people={people} base={base} mails={mails} />}
        <Box sx={{ mt: 3 }}>
          <FeedFold folder={folder} feed={feed} />
          {people && here && <FolderSettings folder={folder} />}
        </Box>
      </Box>
    </Box>
  );
}

/** Takes out of a folder what somebody else has put there; asked before, since only they could put it back. */
function useTakeOut({ id, name }: { id: string; name: string }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { enqueueSnackbar } = useSnackbar();
  const error = fetcher.state === "idle" ? fetcher.data?.error : null;
  useEffect(() => {
    if (error) enqueueSnackbar(error, { variant: "error" });
  }, [error, enqueueSnackbar]);
  return (row: LibraryRow) => {
    const words = `Take “${row.title}” out of “${name}”? Those who see it by this folder alone will not see it any more.`;
    if (!window.confirm(`${words} Only ${row.sender} can put it back.`)) return;
    void fetcher.submit({ do: "take-out", recording: row.id }, { method: "post", action: `/f/${id}` });
  };
}

function Nothing({ adds, isMember }: { adds: boolean; isMember: boolean }) {
  return (
    <Typography role="status" sx={{ px: { xs: 1.5, sm: 0 }, py: 4, maxWidth: 560 }}>
      {adds
        ? "Nothing lies here yet. In the library drag a recording's picture onto the folder, or choose “Move to a folder” from its menu."
        : isMember
          ? "Nothing lies here yet that you can see."
          : "Nothing is here for you yet. Keep the link: what is put here later shows on this page."}
    </Typography>
  );
}

export function ErrorBoundary({ error, params }: Route.ErrorBoundaryProps) {
  return <Door error={error} token={NO_LINK} enter={`/f/${params.id ?? ""}/enter`} />;
}
