import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState, type Ref } from "react";
import { COMMENT_MAX } from "#core/answers/text";
import { formatClock, type Micros } from "#core/time/micros";
import type { Player } from "../player/player";
import { kept } from "../kept";
import { newId } from "../live/id";
import { NameField } from "./NameField";
import type { AnswersStore, Me } from "./store";
import { useSay } from "./useSay";

export interface DraftAnchor {
  at: Micros;
  until: Micros | null;
  /** the revision whose moments these are; the page's own where it is not told */
  revision?: number | null;
}

interface Props {
  store: AnswersStore | null;
  me: Me | null;
  player: Player | null;
  token: string;
  anchor: DraftAnchor | null;
  onAnchor: (anchor: DraftAnchor | null) => void;
  field: Ref<HTMLTextAreaElement>;
  /** is there a timeline, on which a moment can be made a stretch? */
  stretches: boolean;
}

/** A comment that is being written, as this browser keeps it: sent again under the same id, it is made once. */
interface Draft extends DraftAnchor {
  id: string;
  text: string;
}
const draftName = (token: string) => `clear-nod-draft:${token}`;

function keptDraft(token: string): Draft | null {
  const draft = kept.read(draftName(token)) as Draft | null;
  // One that is of another form was written by an earlier version.
  return draft && typeof draft.text === "string" && Number.isSafeInteger(draft.at) ? draft : null;
}

/** Where this moment is, never beyond the end. */
export const momentOf = (player: Player | null): Micros => {
  const { time, duration } = player?.snapshot() ?? { time: 0, duration: 0 };
  return Math.max(0, Math.min(time, duration || time));
};

/**
 * Writes a comment. Starting to type pauses and keeps the moment; what was typed stays in this browser until it is on
 * the server.
 */
export function Composer({ store, me, player, token, anchor, onAnchor, field, stretches }: Props) {
  const { say, busy } = useSay(store);
  const [text, setText] = useState("");
  const [naming, setNaming] = useState(false);

  /** the same for every attempt at one comment */
  const made = useRef<string>("");
  // What was being written at the last visit stands where it was written.
  const restore = useRef(onAnchor);
  restore.current = onAnchor;
  useEffect(() => {
    const draft = keptDraft(token);
    if (!draft) return;
    made.current = draft.id;
    setText(draft.text);
    restore.current({ at: draft.at, until: draft.until, revision: draft.revision });
  }, [token]);

  const write = (next: string) => {
    if (text === "") made.current = newId();
    const place = next === "" ? null : (anchor ?? { at: momentOf(player), until: null });
    if (place && !anchor) player?.pause();
    if (place !== anchor) onAnchor(place);
    setText(next);
    if (next === "") kept.remove(draftName(token));
  };
  // Kept with its moment, whose end the handle on the timeline moves.
  useEffect(() => {
    if (anchor && text !== "") {
      kept.write(draftName(token), { id: made.current, text, ...anchor } satisfies Draft);
    }
  }, [anchor, text, token]);
  const send = async (given?: boolean) => {
    if (text.trim() === "" || busy) return;
    made.current ||= newId();
    const named = given ?? (await store?.hasName());
    setNaming(!named);
    if (
      named &&
      (await say({ do: "comment", id: made.current, body: text, ...(anchor ?? { at: momentOf(player), until: null }) }))
    )
      write("");
  };
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <TextField
        multiline
        minRows={2}
        maxRows={8}
        size="small"
        value={text}
        placeholder="Comment at this moment"
        inputRef={field}
        onChange={(e) => write(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) void send();
        }}
        slotProps={{ htmlInput: { "aria-label": "Comment at this moment", maxLength: COMMENT_MAX } }}
      />
      {naming && <NameField store={store} me={me} onNamed={() => void send(true)} onCancel={() => setNaming(false)} />}
      {text !== "" && !naming && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <Typography variant="body2" className="clock" sx={{ mr: "auto" }}>
            {anchor && anchor.until !== null
              ? `${formatClock(anchor.at)} to ${formatClock(anchor.until)}`
              : `At ${formatClock(anchor?.at ?? 0)}`}
          </Typography>
          <Button onClick={() => write("")}>Discard</Button>
          <Button variant="contained" disabled={busy || text.trim() === ""} onClick={() => void send()}>
            {busy ? "Sending" : "Comment"}
          </Button>
          {stretches && anchor && anchor.until === null && (
            <Typography variant="body2" color="text.secondary" sx={{ flexBasis: "100%" }}>
              Drag the handle on the timeline to make it a stretch.
            </Typography>
          )}
        </Box>
      )}
    </Box>
  );
}
