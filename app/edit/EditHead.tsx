import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useState } from "react";
import type { Shown } from "#core/recipe/edits";
import { changeBetween } from "#core/recipe/history";
import type { Draft } from "#server/editing/drafts";
import type { Publication } from "#server/editing/editing";
import { heading } from "../watch/Head";
import type { EditSession, EditState, Keeping } from "./session";

interface Props {
  id: string;
  token: string;
  title: string;
  session: EditSession;
  edit: EditState;
  /** what is published */
  current: Shown & { revision: number };
  publishing: Publication | null;
  error: string | null;
  /** the noise is still being taken out of the voice */
  waitsForVoice: boolean;
  onPublish: () => void;
}

const KEPT: Record<Keeping, string> = {
  saved: "Saved",
  saving: "Saving",
  here: "No connection. Kept on this computer, and saved by itself later.",
  other: "Another window has changed this edit.",
  refused: "Not saved.",
};

/** What is edited, where the edit is kept, and publishing it. */
export function EditHead({
  id,
  token,
  title,
  session,
  edit,
  current,
  publishing,
  error,
  waitsForVoice,
  onPublish,
}: Props) {
  const { history, shown, seen, keeping, problem } = edit;
  const same = changeBetween(current, shown) === null;
  const changedElsewhere = seen !== current.revision && !publishing;
  return (
    <Box sx={{ gridArea: "head", px: { xs: 1.5, sm: 0 }, minWidth: 0, display: "grid", gap: 0.5 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 2, rowGap: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 200 }}>{heading(title)}</Box>
        <Typography variant="body2" role="status">
          {publishing
            ? publishing.wanted > 0
              ? `Publishing: ${publishing.done} of ${publishing.wanted} joins made`
              : waitsForVoice
                ? "Publishing: the noise is being taken out"
                : "Publishing"
            : same
              ? history.done.length > 0
                ? "This is what everybody sees"
                : "Nothing is changed"
              : KEPT[keeping]}
        </Typography>
        <Button component={Link} to={`/w/${token}`} size="small">
          To the recording
        </Button>
        <Button
          variant="contained"
          disabled={same || publishing !== null || keeping === "other" || changedElsewhere}
          onClick={onPublish}
        >
          Publish
        </Button>
      </Box>
      {(problem ?? error) && (
        <Alert severity="error" role="alert">
          {problem ?? error}
        </Alert>
      )}
      {keeping === "other" && <Other id={id} session={session} />}
      {changedElsewhere && keeping !== "other" && !same && (
        <Alert
          severity="warning"
          action={
            <>
              <Button color="inherit" size="small" onClick={() => session.startFrom(current)}>
                Begin from what is shown
              </Button>
              <Button color="inherit" size="small" onClick={() => session.keepOver(current.revision)}>
                Go on with this edit
              </Button>
            </>
          }
        >
          Something else was published since this edit was begun. Publishing this edit replaces it.
        </Alert>
      )}
    </Box>
  );
}

/** Which of two edits counts. */
function Other({ id, session }: { id: string; session: EditSession }) {
  const [failed, setFailed] = useState(false);
  const look = async (then: (draft: Draft | null) => void) => {
    try {
      const answer = await fetch(`/recordings/${id}/draft`);
      if (!answer.ok) return setFailed(true);
      const { draft } = (await answer.json()) as { draft: Draft | null };
      setFailed(false);
      then(draft);
    } catch {
      setFailed(true);
    }
  };
  return (
    <Alert
      severity="warning"
      action={
        <>
          <Button color="inherit" size="small" onClick={() => void look((draft) => draft && session.useOther(draft))}>
            Take the other one
          </Button>
          <Button
            color="inherit"
            size="small"
            onClick={() => void look((draft) => session.replaceOther(draft?.version ?? 0))}
          >
            Keep this one
          </Button>
        </>
      }
    >
      {failed ? "The other one cannot be reached now. " : ""}Another window has changed this edit meanwhile. Only one of
      the two can go on; nothing was saved over the other.
    </Alert>
  );
}
