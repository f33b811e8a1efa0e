import Download from "@mui/icons-material/Download";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useFetcher } from "react-router";
import type { Film } from "#server/films/films";
import { Folded } from "../components/Folded";
import { FormError } from "../components/FormError";
import { saidBytes } from "../components/saidBytes";
import { useAskAgain } from "../components/useAskAgain";
import { When } from "../components/When";
import type { action, loader } from "../routes/film";
import type { Shared } from "./shared";

const AGAIN_MS = 1_000;

/** Where the file of a recording is asked for; whoever asks by this key is told what the others are. */
export const filmOf = (id: string): string => `/recordings/${id}/film`;

/** The recording as one file, for its sender. */
export function AsFile({ shared: { id, token, as } }: { shared: Shared }) {
  const path = filmOf(id);
  const asked = useFetcher<typeof loader>({ key: path });
  const { load, data: film } = asked;
  const fetcher = useFetcher<typeof action>();
  const settled = fetcher.state === "idle";
  // Allowed for others, it is made by itself.
  useEffect(() => {
    if (settled) void load(path);
  }, [load, path, settled, as.downloads]);
  useAskAgain(asked, path, film?.state === "waiting", AGAIN_MS);
  const wish = (what: "make" | "cancel") => void fetcher.submit({ do: what }, { method: "post", action: path });
  return (
    <Folded title="As a file" value={film ? told(film) : "…"} later>
      <Typography>
        One video file with all that is shown: pictures as they are arranged, what is drawn, cards, music, captions and
        chapters. {as.downloads ? "Those who can open it can download it." : "Nobody else can download it."}
      </Typography>
      {film && <Standing film={film} token={token} busy={!settled} onWish={wish} />}
      <FormError error={fetcher.data?.error} />
    </Folded>
  );
}

function told(film: Film): string {
  switch (film.state) {
    case "none":
      return "not made yet";
    case "waiting":
      return `being made, ${percent(film.done)}`;
    case "failed":
      return "could not be made";
    case "ready":
      return saidBytes(film.size);
  }
}

const percent = (share: number) => `${Math.floor(100 * share)} %`;

interface StandingProps {
  film: Film;
  token: string;
  busy: boolean;
  onWish: (what: "make" | "cancel") => void;
}

function Standing({ film, token, busy, onWish }: StandingProps) {
  const make = (words: string) => (
    <Button variant="outlined" disabled={busy} onClick={() => onWish("make")}>
      {words}
    </Button>
  );
  switch (film.state) {
    case "none":
      return <Box>{make("Make the file")}</Box>;
    case "failed":
      return (
        <>
          <Typography role="alert" color="error">
            {film.problem}
          </Typography>
          <Box>{make("Try again")}</Box>
        </>
      );
    case "waiting":
      return (
        <>
          <LinearProgress variant="determinate" value={100 * film.done} aria-label="The file is being made" />
          <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
            <Typography role="status" sx={{ flex: "1 1 240px" }}>
              {percent(film.done)} is made. It goes on when you leave this page.
            </Typography>
            <Button disabled={busy} onClick={() => onWish("cancel")}>
              Do not make it
            </Button>
          </Box>
        </>
      );
    case "ready":
      return (
        <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
          <Button variant="contained" component="a" href={`/w/${token}/film`} download startIcon={<Download />}>
            Download, {saidBytes(film.size)}
          </Button>
          {make("Make it anew")}
          <Typography variant="body2" color="text.secondary">
            Made <When at={film.madeAt} />
          </Typography>
        </Box>
      );
  }
}
