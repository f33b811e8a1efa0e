import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, type Micros } from "#core/time/micros";
import { Folded } from "../components/Folded";
import { useRefresh } from "../components/useRefresh";
import { PictureButton } from "../components/PictureButton";

interface Props {
  id: string;
  token: string;
  title: string;
  hasPoster: boolean;
  /** the moment that was chosen, on the source line; null where it is chosen by itself */
  posterAt: Micros | null;
  /** it is a picture that was sent */
  posterOwn: boolean;
  line: RecordedLine;
  /** the moment that is seen, on the source line; null where it is left out of what is published */
  now: () => Micros | null;
}

const AGAIN_MS = 1_000;

/** The picture that stands for the recording: of any moment that is shown, with the layers as they look there. */
export function PosterFold({ id, token, title, hasPoster, posterAt, posterOwn, line, now }: Props) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { revalidate } = useRevalidator();
  const [outside, setOutside] = useState(false);
  const busy = fetcher.state !== "idle" || !hasPoster;
  useRefresh(!hasPoster && fetcher.state === "idle", AGAIN_MS);
  // The address stays the same when the picture is another one.
  const [made, setMade] = useState(0);
  useEffect(() => {
    if (hasPoster) setMade((n) => n + 1);
  }, [hasPoster, posterAt]);
  const choose = (at: Micros | null) =>
    void fetcher.submit(at === null ? { do: "poster" } : { do: "poster", at: String(at) }, {
      method: "post",
      action: `/recordings/${id}`,
    });
  return (
    <Folded
      later
      title="Poster"
      value={
        posterOwn
          ? "a picture of your own"
          : posterAt === null
            ? "chosen by itself"
            : `the picture at ${formatClock(line.at(posterAt))}`
      }
    >
      {hasPoster ? (
        <Box
          component="img"
          src={`/w/${token}/poster.jpg?${made}`}
          alt={`Poster of ${title}`}
          sx={{ width: "100%", display: "block", border: "1px solid", borderColor: "mist" }}
        />
      ) : (
        <Typography variant="body2" role="status">
          The poster is being made.
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button
          size="small"
          variant="outlined"
          disabled={busy}
          onClick={() => {
            const at = now();
            setOutside(at === null);
            if (at !== null) choose(at);
          }}
        >
          Take the picture from here
        </Button>
        <PictureButton
          to={`/recordings/${id}/pictures/poster`}
          label="Use a picture of your own"
          disabled={busy}
          onTaken={() => {
            setMade((n) => n + 1);
            void revalidate();
          }}
        />
        {(posterAt !== null || posterOwn) && (
          <Button size="small" disabled={busy} onClick={() => choose(null)}>
            Choose by itself
          </Button>
        )}
      </Box>
      {outside && (
        <Typography variant="body2" role="alert">
          This moment is not published, so it cannot be on the poster.
        </Typography>
      )}
      {fetcher.data?.error && (
        <Typography variant="body2" color="error" role="alert">
          {fetcher.data.error}
        </Typography>
      )}
    </Folded>
  );
}
