import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useSnackbar } from "notistack";
import { memo, useRef, useState } from "react";
import { mayOnComment } from "#core/access/access";
import { writeFragment } from "#core/answers/fragment";
import { COMMENT_MAX } from "#core/answers/text";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { ShownComment } from "#server/answers/comments";
import { Portrait } from "../components/Arch";
import { PlainText } from "../components/PlainText";
import { useCopy } from "../components/useCopy";
import { When } from "../components/When";
import { newId } from "../live/id";
import { NameField } from "./NameField";
import { Refused, type AnswersStore, type Me } from "./store";
import { useSay } from "./useSay";

interface Props {
  root: ShownComment;
  replies: ShownComment[];
  current: boolean;
  store: AnswersStore | null;
  me: Me | null;
  link: string;
  onSeek: (at: Micros) => void;
}

/** One thread: a comment at its moment, its replies, and what this viewer may do with them. */
export const Thread = memo(function Thread({ root, replies, current, store, me, link, onSeek }: Props) {
  const [replying, setReplying] = useState(false);
  const { say } = useSay(store);
  const copy = useCopy();
  return (
    <Box
      component="li"
      id={`c-${root.id}`}
      data-current={current || undefined}
      sx={{
        listStyle: "none",
        borderTop: "1px solid",
        borderColor: "mist",
        py: 1.25,
        pl: 1,
        borderLeft: "4px solid",
        borderLeftColor: current ? "marigold.main" : "transparent",
      }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <ButtonBase
          onClick={() => onSeek(root.at)}
          className="clock"
          aria-label={`Go to ${spokenLength(root.at)}`}
          sx={{ fontWeight: 600, color: "primary.main", minHeight: 24, px: 0.5, ml: -0.5 }}
        >
          {formatClock(root.at)}
          {root.until !== null && ` to ${formatClock(root.until)}`}
        </ButtonBase>
        {root.settled && (
          <Typography component="span" variant="body2" color="text.secondary">
            Settled
          </Typography>
        )}
      </Box>
      <Words comment={root} store={store} me={me} />
      {root.replies > replies.length && <AllReplies root={root} store={store} />}
      {replies.length > 0 && (
        <Box component="ul" sx={{ m: 0, p: 0, pl: 1.5, mt: 0.5, borderLeft: "1px solid", borderColor: "mist" }}>
          {replies.map((reply) => (
            <Box component="li" key={reply.id} id={`c-${reply.id}`} sx={{ listStyle: "none", pt: 0.5 }}>
              <Words comment={reply} store={store} me={me} />
            </Box>
          ))}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 0.5, mt: 0.25, ml: -0.75, flexWrap: "wrap" }}>
        {!replying && (
          <Button size="small" onClick={() => setReplying(true)} sx={small}>
            Reply
          </Button>
        )}
        {me && mayOnComment(me, "settle", { authorId: root.author }) && root.body !== null && (
          <Button
            size="small"
            sx={small}
            onClick={() => void say({ do: "settle", id: root.id, settled: !root.settled })}
          >
            {root.settled ? "Open again" : "Settle"}
          </Button>
        )}
        <Button
          size="small"
          sx={small}
          onClick={() => void copy(`${link}#${writeFragment(root)}`, "Link to this moment copied")}
        >
          Copy link
        </Button>
      </Box>
      {replying && <Reply to={root.id} store={store} me={me} onDone={() => setReplying(false)} />}
    </Box>
  );
});

/** Brings the replies of a thread that have not come with the page. */
function AllReplies({ root, store }: { root: ShownComment; store: AnswersStore | null }) {
  const [busy, setBusy] = useState(false);
  const { enqueueSnackbar } = useSnackbar();
  const open = async () => {
    setBusy(true);
    try {
      await store?.thread(root.id);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      enqueueSnackbar(error.message, { variant: "error" });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Button size="small" sx={small} disabled={busy} onClick={() => void open()}>
      {busy ? "Loading…" : `Show all ${root.replies} replies`}
    </Button>
  );
}

const small = { minHeight: 26, py: 0, px: 0.75, minWidth: 0, fontSize: "0.86rem" };

/** What one person wrote, and the change of it. */
function Words({ comment, store, me }: { comment: ShownComment; store: AnswersStore | null; me: Me | null }) {
  /** the version of the comment that is being changed; null while none is */
  const [editing, setEditing] = useState<number | null>(null);
  const latest = useRef(comment.version);
  latest.current = comment.version;
  const { say, busy } = useSay(store);
  const own = me !== null && mayOnComment(me, "edit", { authorId: comment.author });
  if (comment.body === null) {
    return (
      <Typography variant="body2" color="text.secondary">
        {comment.name} took this comment back.
      </Typography>
    );
  }
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "24px minmax(0,1fr)", gap: 1 }}>
      <Portrait
        name={comment.name}
        digest={comment.portrait}
        sx={{
          width: 24,
          height: 27,
          fontSize: 10.5,
          ...(comment.bySender ? { bgcolor: "text.primary", color: "background.paper" } : {}),
        }}
      />
      <Box>
        <Typography variant="body2" component="div">
          <strong>{comment.name}</strong>
          {comment.bySender ? " (sender)" : comment.guest && " (guest)"}
          <Box component="span" sx={{ color: "text.secondary" }}>
            , <When at={comment.createdAt} />
            {comment.edited && ", changed"}
          </Box>
        </Typography>
        {editing !== null ? (
          <WriteField
            label="Change your comment"
            start={comment.body}
            button="Keep"
            busy={busy}
            onCancel={() => setEditing(null)}
            onSend={async (body) => {
              const kept = await say({ do: "edit", id: comment.id, body, version: editing });
              // What another window has written was told: sent again, it is replaced knowingly.
              setEditing(kept ? null : latest.current);
            }}
          />
        ) : (
          <Typography component="div">
            <PlainText text={comment.body} />
          </Typography>
        )}
        {own && editing === null && (
          <Box sx={{ ml: -0.75 }}>
            <Button
              size="small"
              sx={small}
              onClick={() => setEditing(comment.version)}
              aria-label={`Change your comment at ${formatClock(comment.at)}`}
            >
              Change
            </Button>
            <Button
              size="small"
              sx={small}
              onClick={() => void say({ do: "remove", id: comment.id })}
              aria-label={`Take back your comment at ${formatClock(comment.at)}`}
            >
              Take back
            </Button>
          </Box>
        )}
      </Box>
    </Box>
  );
}

function Reply({
  to,
  store,
  me,
  onDone,
}: {
  to: string;
  store: AnswersStore | null;
  me: Me | null;
  onDone: () => void;
}) {
  const { say, busy } = useSay(store);
  const [waiting, setWaiting] = useState<string | null>(null);
  const [id] = useState(() => newId());
  const send = async (body: string, named?: boolean) => {
    if (!(named ?? (await store?.hasName()))) return setWaiting(body);
    if (await say({ do: "reply", id, to, body })) onDone();
  };
  if (waiting !== null)
    return (
      <NameField store={store} me={me} onCancel={() => setWaiting(null)} onNamed={() => void send(waiting, true)} />
    );
  return (
    <WriteField
      label="Your reply"
      start=""
      button="Reply"
      busy={busy}
      onSend={(body) => void send(body)}
      onCancel={onDone}
    />
  );
}

/** A short text with its two ends: sent, or left. */
export function WriteField({
  label,
  start,
  button,
  busy,
  onSend,
  onCancel,
}: {
  label: string;
  start: string;
  button: string;
  busy: boolean;
  onSend: (text: string) => void;
  onCancel?: () => void;
}) {
  const [text, setText] = useState(start);
  const ready = text.trim() !== "" && !busy;
  return (
    <Box sx={{ display: "grid", gap: 0.75, mt: 0.5 }}>
      <TextField
        multiline
        size="small"
        autoFocus
        maxRows={8}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey) && ready) onSend(text);
          if (e.key === "Escape") onCancel?.();
        }}
        slotProps={{ htmlInput: { "aria-label": label, maxLength: COMMENT_MAX } }}
      />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button size="small" variant="contained" disabled={!ready} onClick={() => onSend(text)}>
          {button}
        </Button>
        {onCancel && (
          <Button size="small" onClick={onCancel}>
            Cancel
          </Button>
        )}
      </Box>
    </Box>
  );
}
