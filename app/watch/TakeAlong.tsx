import Download from "@mui/icons-material/Download";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Film } from "#server/films/films";
import { saidBytes } from "../components/saidBytes";
import { useRefresh } from "../components/useRefresh";

/** It takes minutes, and a class may look. */
const AGAIN_MS = 15_000;

/** The recording as a file, for whoever may have it. */
export function TakeAlong({ token, film }: { token: string; film: Film }) {
  useRefresh(film.state === "waiting", AGAIN_MS);
  if (film.state === "ready")
    return (
      <Button
        size="small"
        component="a"
        href={`/w/${token}/film`}
        download
        startIcon={<Download />}
        sx={{ minHeight: 24, py: 0, ml: -0.5 }}
      >
        Download, {saidBytes(film.size)}
      </Button>
    );
  return film.state === "waiting" ? (
    <Typography variant="body2" color="text.secondary" role="status">
      It can be downloaded soon: its file is being made.
    </Typography>
  ) : null;
}
