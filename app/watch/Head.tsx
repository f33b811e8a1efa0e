import ContentCopy from "@mui/icons-material/ContentCopy";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link, useFetcher } from "react-router";
import type { Audience } from "#core/access/access";
import type { Ask } from "#core/answers/kinds";
import { formatClock, isoDuration, spokenLength } from "#core/time/micros";
import type { Playable } from "#server/playback/playback";
import { AskEditor } from "../answers/AskEditor";
import { EditableTitle } from "../components/EditableTitle";
import { useCopy } from "../components/useCopy";
import { ShareButton } from "../share/ShareButton";
import type { Shared } from "../share/shared";
import { When } from "../components/When";

export const heading = (shown: string) => (
  <Typography variant="h1" sx={{ overflowWrap: "anywhere", fontSize: { xs: "1.4rem", md: "1.6rem" }, lineHeight: 1.2 }}>
    {shown}
  </Typography>
);

/** Who made it, when, how long it is, and what is going on with it now. */
export function Meta({
  sender,
  createdAt,
  playable,
  watching,
}: {
  sender: string;
  createdAt: string;
  playable: Playable | null;
  watching: number | null;
}) {
  return (
    <>
      {sender}, <When at={createdAt} />
      {playable && (
        <>
          ,{" "}
          <time dateTime={isoDuration(playable.durationUs)} aria-label={spokenLength(playable.durationUs)}>
            {formatClock(playable.durationUs)}
          </time>
        </>
      )}
      {watching !== null && (
        <Box component="span" role="status" sx={{ color: "text.primary", fontWeight: 600, ml: 1.5 }}>
          {watching === 0 ? "Nobody else has it open now" : `${watching} watching now`}
        </Box>
      )}
      {playable && playable.state !== "complete" && (
        <Box component="span" role="status" sx={{ color: "clay.main", fontWeight: 600, ml: 1.5 }}>
          {GROWING[playable.state === "recording" && playable.paused ? "paused" : playable.state]}
        </Box>
      )}
    </>
  );
}

const GROWING = {
  uploading: "The recording has ended; its last parts are still on their way.",
  recording: "This is being recorded right now. It plays as it grows.",
  paused: "This is being recorded right now, and is paused.",
};

interface OwnProps {
  id: string;
  title: string;
  titleVersion: number;
  shared: Shared;
  ask: Ask;
  /** who, when, how long */
  children: ReactNode;
}

/** For the sender, in one row: the title, who can open it, the link itself, and what is asked. */
export function OwnHead({ id, title, titleVersion, shared, ask, children }: OwnProps) {
  const sharing = useFetcher<{ error: string | null }>();
  const asking = useFetcher<{ error: string | null }>();
  const copy = useCopy();
  const { link } = shared;
  const shown = sharing.formData ? sharing.formData.get("audience") : shared.as.audience;
  const to = { method: "post", action: `/recordings/${id}` } as const;
  const share = (audience: Audience) => void sharing.submit({ do: "share", audience }, to);
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, rowGap: 0.5, alignItems: "center" }}>
      <Box sx={{ flex: "1 1 320px", minWidth: 0 }}>
        <EditableTitle id={id} title={title} version={titleVersion}>
          {heading}
        </EditableTitle>
        <Typography
          variant="body2"
          color="text.secondary"
          component="div"
          sx={{ display: "flex", flexWrap: "wrap", columnGap: 1.5 }}
        >
          <span>{children}</span>
          <span role="status">
            <ShareButton shared={shared} />
          </span>
        </Typography>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center" }}>
        {shown === "owner" && (
          <Button
            variant="contained"
            onClick={() => {
              share("anyone");
              void copy(link, "Shared, and the link is copied");
            }}
          >
            Share with anyone who has the link
          </Button>
        )}
        <Button variant="outlined" startIcon={<ContentCopy />} onClick={() => void copy(link)}>
          Copy link
        </Button>
        <Button component={Link} to={`/recordings/${id}/edit`}>
          Edit
        </Button>
        <AskEditor
          ask={ask}
          busy={asking.state !== "idle"}
          saved={asking.state === "idle" ? (asking.data ?? null) : null}
          onSave={(next, version) => void asking.submit({ do: "ask", ask: JSON.stringify(next), version }, to)}
          onClose={(closed) => void asking.submit({ do: "close-ask", closed: String(closed) }, to)}
        />
      </Box>
      {sharing.data?.error && (
        <Typography role="alert" color="error" sx={{ flexBasis: "100%" }}>
          {sharing.data.error}
        </Typography>
      )}
    </Box>
  );
}
