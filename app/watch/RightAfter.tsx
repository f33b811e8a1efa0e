import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { useEffect, useState } from "react";
import { Link, useFetcher, useLocation, useNavigate } from "react-router";
import type { JustRecorded } from "../record/just-recorded";

/** Right after a recording: what becomes of it, in one press. It is kept where nothing is pressed. */
export function RightAfter({ id, title }: { id: string; title: string }) {
  const { state } = useLocation();
  // The server does not know what the tab has just done.
  const [fresh, setFresh] = useState(false);
  useEffect(() => setFresh((state as Partial<JustRecorded> | null)?.justRecorded === true), [state]);
  const fetcher = useFetcher<{ error: string | null }>();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  if (!fresh) return null;
  const deleteAndGo = async (to: string) => {
    await fetcher.submit({ do: "delete" }, { method: "post", action: `/recordings/${id}` });
    enqueueSnackbar(`Deleted “${title}”. It can be restored from the deleted recordings.`);
    void navigate(to);
  };
  const busy = fetcher.state !== "idle";
  return (
    <Box
      role="group"
      aria-label="Right after recording"
      sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", "& button, & a": { minHeight: 36 } }}
    >
      <span>Recorded.</span>
      <Button size="small" variant="outlined" onClick={() => setFresh(false)}>
        Keep it
      </Button>
      <Button size="small" disabled={busy} onClick={() => void deleteAndGo("/record")}>
        Do it again
      </Button>
      <Button size="small" component={Link} to={`/record?take-of=${id}`}>
        Add a take
      </Button>
      <Button size="small" color="clay" disabled={busy} onClick={() => void deleteAndGo("/library")}>
        Discard it
      </Button>
    </Box>
  );
}
