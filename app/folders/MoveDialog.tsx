import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useSnackbar } from "notistack";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { saySight } from "#core/access/move";
import type { ChangeOfSight } from "#server/folders/contents";
import type { FolderLine } from "#server/folders/folders";
import { FormError } from "../components/FormError";
import { pathOf, useFolders } from "./useFolders";

/** What is to lie somewhere else. */
export type Moved =
  { kind: "recordings"; ids: string[]; name: string; drafts: number } | { kind: "folder"; ids: [string]; name: string };

interface Props {
  moved: Moved;
  /** where it lies now, and is not offered */
  here?: string;
  /** where it was dropped */
  to?: FolderLine;
  onClose: (done: boolean) => void;
}

/** No folder, among the values of a choice. */
const NOWHERE = "";

/** Where something is to lie; who would gain and who would lose sight by that is said before it happens. */
export function MoveDialog({ moved, here, to, onClose }: Props) {
  const [chosen, setChosen] = useState<string | null>(to?.id ?? null);
  const [open, setOpen] = useState(false);
  const { found: all, q, setQ } = useFolders();
  const found = to && !all.some(({ id }) => id === to.id) ? [{ ...to, above: [] }, ...all] : all;
  const move = useFetcher<{ error: string | null }>();
  const { enqueueSnackbar } = useSnackbar();
  const done = move.state === "idle" && move.data?.error === null;
  const name = found.find(({ id }) => id === chosen)?.name;
  const said = name ? `${moved.name} lies in “${name}” now` : `${moved.name} lies in no folder now`;
  useEffect(() => {
    if (!done) return;
    enqueueSnackbar(said, { key: "moved", preventDuplicate: true });
    onClose(true);
  }, [done, said, enqueueSnackbar, onClose]);
  const opens = open && moved.kind === "recordings" && moved.drafts > 0 && chosen !== NOWHERE;
  const submit = () => {
    const fields = { do: moved.kind === "folder" ? "move" : "put", to: chosen!, open: String(opens) };
    const action = moved.kind === "folder" ? `/f/${moved.ids[0]}` : "/folders";
    void move.submit({ ...fields, ...recordingsOf(moved) }, { method: "post", action });
  };
  const offered = found.filter(({ id }) => id !== here && !(moved.kind === "folder" && id === moved.ids[0]));
  return (
    <Dialog open fullWidth maxWidth="xs" onClose={() => onClose(false)} aria-labelledby="move-title">
      <DialogTitle id="move-title" sx={{ overflowWrap: "anywhere" }}>
        Where should {moved.name} lie?
      </DialogTitle>
      <DialogContent>
        <TextField
          size="small"
          fullWidth
          autoFocus={!to}
          label="Find a folder"
          value={q}
          onChange={(e) => setQ(e.target.value)}
          sx={{ mt: 1 }}
          slotProps={{ htmlInput: { maxLength: 160 } }}
        />
        <RadioGroup
          aria-label="Folders"
          value={chosen}
          onChange={(_, value) => setChosen(value)}
          sx={{ my: 1, maxHeight: 216, overflowY: "auto", flexWrap: "nowrap" }}
        >
          {offered.map(({ id, name, above }) => (
            <FormControlLabel
              key={id}
              value={id}
              control={<Radio size="small" />}
              label={pathOf({ above, name })}
              sx={{ overflowWrap: "anywhere" }}
            />
          ))}
          <FormControlLabel value={NOWHERE} control={<Radio size="small" />} label="In no folder" />
        </RadioGroup>
        {offered.length === 0 && (
          <Typography sx={{ mb: 1 }}>{q ? "No folder of that name." : "No folder yet."}</Typography>
        )}
        {moved.kind === "recordings" && moved.drafts > 0 && chosen !== null && chosen !== NOWHERE && (
          <FormControlLabel
            control={<Checkbox size="small" checked={open} onChange={(_, is) => setOpen(is)} />}
            label={
              moved.ids.length === 1
                ? "It is a draft: open it to the people of the folder"
                : moved.drafts === 1
                  ? "One of them is a draft: open it to the people of the folder"
                  : `${moved.drafts} of them are drafts: open these to the people of the folder`
            }
          />
        )}
        {chosen !== null && <Sight key={`${chosen} ${opens}`} moved={moved} to={chosen} opens={opens} />}
        <FormError error={move.data?.error} sx={{ mt: 1 }} />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => onClose(false)}>Leave it</Button>
        <Button variant="contained" disabled={chosen === null || move.state !== "idle"} onClick={submit}>
          Move
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const recordingsOf = (moved: Moved): Record<string, string> =>
  moved.kind === "recordings" ? { recordings: JSON.stringify(moved.ids) } : {};

/** Who would gain and who would lose sight. */
function Sight({ moved, to, opens }: { moved: Moved; to: string; opens: boolean }) {
  const fetcher = useFetcher<{ change: ChangeOfSight; workspace: string; error?: string }>();
  const { load } = fetcher;
  const query = new URLSearchParams({
    to,
    open: String(opens),
    ...(moved.kind === "folder" ? { folder: moved.ids[0] } : recordingsOf(moved)),
  }).toString();
  useEffect(() => void load(`/folders/sight?${query}`), [load, query]);
  const { data } = fetcher;
  if (!data) return <Typography color="text.secondary">Looking who would see it…</Typography>;
  if (data.error) return <Alert severity="error">{data.error}</Alert>;
  // Of a folder only who it is: how many recordings lie in it is not counted.
  const total = moved.kind === "recordings" ? moved.ids.length : 0;
  const say = (change: ChangeOfSight["gains"]) => saySight(change, data.workspace, total);
  const [gains, loses] = [say(data.change.gains), say(data.change.loses)];
  return (
    <Box role="status" sx={{ borderLeft: "3px solid", borderColor: gains ? "marigold.main" : "mist", pl: 1.5 }}>
      {gains && (
        <Typography>
          <strong>Will see it:</strong> {gains}.
        </Typography>
      )}
      {loses && (
        <Typography>
          <strong>Will not see it any more:</strong> {loses}.
        </Typography>
      )}
      {!gains && !loses && <Typography>The same people see it as now.</Typography>}
    </Box>
  );
}
