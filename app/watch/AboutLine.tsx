import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import type { About } from "#core/title/about";
import { AboutFields } from "../components/AboutFields";

/** As much as stands beside a picture without pushing it down. */
const SHORT = 140;

/** What the recording is about: one line that opens; its sender changes it here. */
export function AboutLine({ id, about, mine }: { id: string; about: About; mine: boolean }) {
  const [open, setOpen] = useState(false);
  const { description, tags } = about;
  const isShort = description.length <= SHORT && !description.includes("\n");
  if (!mine && !description && tags.length === 0) return null;
  return (
    <Typography
      variant="body2"
      component="div"
      sx={{ overflowWrap: "anywhere", ...(open && { maxHeight: "30vh", overflowY: "auto" }) }}
    >
      <Box component="span" sx={{ whiteSpace: open ? "pre-line" : "normal" }}>
        {open || isShort ? description : `${description.slice(0, SHORT).trimEnd()}…`}
      </Box>
      {tags.length > 0 && (
        <Box component="span" sx={{ color: "text.secondary", ml: description ? 1 : 0 }}>
          Tags: {tags.join(", ")}
        </Box>
      )}
      {!isShort && (
        <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)} sx={{ ml: 1, minHeight: 24, py: 0 }}>
          {open ? "Less" : "More"}
        </Button>
      )}
      {mine && <Change id={id} about={about} />}
    </Typography>
  );
}

function Change({ id, about }: { id: string; about: About }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { revalidate } = useRevalidator();
  const [draft, setDraft] = useState<About | null>(null);
  const isEmpty = !about.description && about.tags.length === 0;
  const [problem, setProblem] = useState<string | null>(null);
  const answer = fetcher.state === "idle" ? fetcher.data : undefined;
  useEffect(() => {
    if (!answer) return;
    setProblem(answer.error);
    // What was refused stays in its fields; kept once more, it replaces what stands there now.
    if (answer.error) void revalidate();
    else setDraft(null);
  }, [answer, revalidate]);
  const open = () => {
    setProblem(null);
    setDraft({ description: about.description, tags: about.tags });
  };
  const keep = ({ description, tags }: About) => {
    const deed = { do: "describe", description, tags: JSON.stringify(tags), before: JSON.stringify(about) };
    void fetcher.submit(deed, { method: "post", action: `/recordings/${id}` });
  };
  return (
    <>
      <Button size="small" onClick={open} sx={{ ml: isEmpty ? -0.5 : 1, minHeight: 24, py: 0 }}>
        {isEmpty ? "Say what it is about" : "Change"}
      </Button>
      <Dialog open={draft !== null} onClose={() => setDraft(null)} fullWidth maxWidth="sm">
        <DialogTitle>What it is about</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          {draft && <AboutFields about={draft} onChange={setDraft} />}
          {problem && (
            <Typography role="alert" color="error">
              {problem} Keep it once more to put it in the place of the other.
            </Typography>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setDraft(null)}>Leave it</Button>
          <Button variant="contained" disabled={fetcher.state !== "idle"} onClick={() => draft && keep(draft)}>
            Keep
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
