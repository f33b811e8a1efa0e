import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import type { Chapter } from "#core/viewing/figures";

/** The talking points of a recording can be its chapters. */
export function ProposedChapters({ id, proposed }: { id: string; proposed: readonly Chapter[] }) {
  const fetcher = useFetcher<{ error: string | null }>();
  if (proposed.length === 0) return null;
  return (
    <Typography variant="body2" component="div">
      Chapters from your talking points: {proposed.map(({ title }) => title).join(", ")}.
      <Button
        size="small"
        disabled={fetcher.state !== "idle"}
        onClick={() => void fetcher.submit({ do: "chapters" }, { method: "post", action: `/recordings/${id}` })}
        sx={{ ml: 1, minHeight: 24, py: 0 }}
      >
        Use them
      </Button>
      {fetcher.data?.error && <span role="alert">{fetcher.data.error}</span>}
    </Typography>
  );
}
