import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { REACTION_NAMES, sayAnswer, type ReactionKind } from "#core/answers/kinds";
import { formatClock, toSeconds } from "#core/time/micros";
import { SHOWS, type Show } from "#core/answers/shows";
import { MISSING_REST } from "#core/notices/letter";
import { inboxQuery, readForm, type InboxQuery, type Waiting } from "#server/answers/inbox";
import type { Said } from "#server/answers/sayings";
import { Refused, sayAt } from "../answers/store";
import { WriteField } from "../answers/Thread";
import { Notice } from "../components/Notice";
import { PlainText } from "../components/PlainText";
import { Unused } from "../components/Unused";
import { Day, When } from "../components/When";
import { newId } from "../live/id";
import { orNotFound, requireMember } from "../services/guard.server";
import { answerJson } from "../services/json.server";
import type { Handle } from "./frame";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/answers";

export const handle: Handle = { showsNews: true };

export const meta: Route.MetaFunction = () => [{ title: "Answers · Clear Nod" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const { value, error } = inboxQuery.validate(Object.fromEntries(url.searchParams), {
    stripUnknown: true,
  });
  if (error) throw data({ message: error.message }, { status: 400 });
  const query = value as InboxQuery;
  return { ...(await orNotFound(app.runtime.inbox.page(member.id, query))), query };
}

export async function action({ context, request, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  return answerJson<Parameters<typeof app.runtime.inbox.mark>[1]>(request, readForm, async (marks) => {
    await app.runtime.inbox.mark(member.id, marks);
    return {};
  });
}

function place(show: Show, after: string | null): string {
  const query = new URLSearchParams({ ...(show !== "all" && { show }), ...(after && { after }) });
  return query.size > 0 ? `/answers?${query}` : "/answers";
}

const SHOW_NAMES: Record<Show, string> = {
  all: "Everything",
  unread: "New",
  owed: "You owe",
  unclear: "Not clear yet",
  questions: "Questions",
};
/** What stands first; the rest of the line says from whom. */
const KIND_NAMES: Record<Waiting["kind"], string> = {
  comment: "Comment from",
  question: "Question from",
  reply: "Reply from",
  "not-clear": "Not clear yet from",
  answer: "Answer from",
  reaction: "Reaction from",
  view: "Opened by",
  owed: "You are asked by",
  folder: "New in a folder, by",
  ready: "All of it has arrived",
  trouble: "Something is missing",
  unused: "It goes soon",
};
const KIND_COLOR: Record<Waiting["kind"], string> = {
  comment: "mist",
  question: "primary.main",
  reply: "mist",
  "not-clear": "clay.main",
  answer: "marigold.main",
  owed: "marigold.main",
  reaction: "mist",
  view: "mist",
  folder: "primary.main",
  ready: "mist",
  trouble: "clay.main",
  unused: "clay.main",
};
/** What nobody did. */
const BY_ITSELF = new Set<Waiting["kind"]>(["ready", "trouble", "unused"]);

export default function Answers({ loaderData }: Route.ComponentProps) {
  const { waiting, next, query } = loaderData;
  const { show } = query;
  const marks = useFetcher();
  const mark = (deed: "read" | "unread", subjects: string[]) =>
    void marks.submit({ do: deed, subjects }, { method: "post", encType: "application/json" });
  const unread = waiting.filter((w) => w.unread).map((w) => w.subject);
  if (waiting.length === 0 && show === "all" && !query.after) {
    return (
      <Notice
        title="Nothing waits for you"
        action={
          <Button component={Link} to="/library" variant="contained" size="large">
            Go to the library
          </Button>
        }
      >
        Comments, questions, nods and “not clear yet” on what you recorded come here by themselves, and so does what
        colleagues ask of you.
      </Notice>
    );
  }
  return (
    <Box sx={{ maxWidth: 980, mx: "auto", px: { xs: 0, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", px: { xs: 1.5, sm: 0 }, mb: 1.5 }}>
        <Typography variant="h1" sx={{ mr: "auto" }}>
          Answers
        </Typography>
        <Button component={Link} to="/account#notices">
          How you are told
        </Button>
        {unread.length > 0 && <Button onClick={() => mark("read", unread)}>Mark all as read</Button>}
      </Box>
      <Box
        component="nav"
        aria-label="Which answers"
        sx={{
          display: "flex",
          flexWrap: "wrap",
          px: { xs: 0.5, sm: 0 },
          borderBottom: "1px solid",
          borderColor: "mist",
        }}
      >
        {SHOWS.map((name) => (
          <Button
            key={name}
            component={Link}
            to={place(name, null)}
            aria-current={name === show ? "page" : undefined}
            sx={{
              color: "text.primary",
              borderBottom: "3px solid",
              borderColor: name === show ? "marigold.main" : "transparent",
            }}
          >
            {SHOW_NAMES[name]}
          </Button>
        ))}
      </Box>
      {waiting.length === 0 && (
        <Typography role="status" sx={{ py: 5, px: { xs: 1.5, sm: 0 } }}>
          Nothing here. <Link to="/answers">Show everything</Link>
        </Typography>
      )}
      <Box
        component="ul"
        aria-label="What waits for you"
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          bgcolor: "background.paper",
          border: "1px solid",
          borderTop: 0,
          borderColor: "mist",
        }}
      >
        {waiting.map((w) => (
          <Item key={w.subject} waiting={w} onMark={mark} />
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 2, mt: 2, px: { xs: 1.5, sm: 0 } }}>
        {query.after && (
          <Button component={Link} to={place(show, null)}>
            Back to the newest
          </Button>
        )}
        {next && (
          <Button component={Link} to={place(show, next)} variant="outlined">
            Older ones
          </Button>
        )}
      </Box>
    </Box>
  );
}

function Item({
  waiting,
  onMark,
}: {
  waiting: Waiting;
  onMark: (deed: "read" | "unread", subjects: string[]) => void;
}) {
  const { kind, subject, token, title, who, guest, words, at, ask, answer, when, unread, thread } = waiting;
  const [replying, setReplying] = useState(false);
  // What was not clear has no thread yet: the reply begins one at that moment.
  const reply: Reply | null = thread
    ? (id, body) => ({ do: "reply", id, to: thread, body })
    : kind === "not-clear" && at !== null
      ? (id, body) => ({ do: "comment", id, body, at, until: null })
      : null;
  const address = `/w/${token}${at === null ? "" : `#t=${toSeconds(at)}`}`;
  return (
    <Box
      component="li"
      data-unread={unread || undefined}
      sx={{
        borderBottom: "1px solid",
        borderColor: "mist",
        borderLeft: "6px solid",
        borderLeftColor: KIND_COLOR[kind],
        px: 2,
        py: 1.25,
        display: "grid",
        gap: 0.25,
        "&:last-of-type": { borderBottom: 0 },
      }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", flexWrap: "wrap" }}>
        <Typography component="h2" variant="body1" sx={{ fontWeight: unread ? 600 : 400 }}>
          {kind === "folder" && words ? `New in “${words}”, by` : KIND_NAMES[kind]}
          {!BY_ITSELF.has(kind) && ` ${who === null ? "an unnamed guest" : guest ? `${who} (guest)` : who}`}
        </Typography>
        {unread && (
          <Typography
            component="span"
            variant="body2"
            sx={{ bgcolor: "marigold.main", color: "marigold.contrastText", px: 0.75, fontWeight: 600 }}
          >
            new
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary" sx={{ ml: "auto" }}>
          <When at={when} />
        </Typography>
      </Box>
      <Typography component="div">
        {kind === "owed" ? (
          ask?.question || "A nod: do you understand, and agree?"
        ) : answer && ask && kind === "answer" ? (
          <PlainText text={sayAnswer(ask, answer)} />
        ) : kind === "reaction" ? (
          REACTION_NAMES[words as ReactionKind]
        ) : kind === "trouble" && words === "" ? (
          MISSING_REST
        ) : kind === "unused" ? (
          <Unused goesAt={words} />
        ) : (
          words && kind !== "folder" && <PlainText text={words} />
        )}
        {kind === "owed" && ask?.due && (
          <Box component="span" sx={{ color: "text.secondary", ml: 1 }}>
            by <Day day={ask.due} />
          </Box>
        )}
      </Typography>
      <Typography variant="body2">
        <Link to={address} onClick={() => unread && onMark("read", [subject])}>
          {title}
          {at !== null && `, ${formatClock(at)}`}
        </Link>
      </Typography>
      {replying && reply ? (
        <ReplyFromHere
          token={token}
          reply={reply}
          onDone={(sent) => {
            setReplying(false);
            if (sent && unread) onMark("read", [subject]);
          }}
        />
      ) : (
        <Box sx={{ display: "flex", gap: 0.5, ml: -1, "& .MuiButton-root": { minWidth: 0 } }}>
          {reply && (
            <Button size="small" onClick={() => setReplying(true)}>
              Reply
            </Button>
          )}
          <Button size="small" component={Link} to={address} onClick={() => unread && onMark("read", [subject])}>
            {kind === "owed" ? "Watch and answer" : "Open"}
          </Button>
          <Button size="small" onClick={() => onMark(unread ? "read" : "unread", [subject])}>
            {unread ? "Mark as read" : "Mark as new"}
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** What a reply from here says at the recording. */
type Reply = (id: string, body: string) => Said;

/** Replies without leaving the list. */
function ReplyFromHere({ token, reply, onDone }: { token: string; reply: Reply; onDone: (sent: boolean) => void }) {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [id] = useState(() => newId());
  const send = async (body: string) => {
    setBusy(true);
    try {
      await sayAt(token, reply(id, body));
      onDone(true);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setProblem(error.message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box>
      <WriteField
        label="Your reply"
        start=""
        button="Reply"
        busy={busy}
        onSend={(body) => void send(body)}
        onCancel={() => onDone(false)}
      />
      {problem && (
        <Typography role="alert" color="error">
          {problem}
        </Typography>
      )}
    </Box>
  );
}
