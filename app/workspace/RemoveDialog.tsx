import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { Colleague } from "#server/workspaces/workspaces";
import { SelectField } from "../components/SelectField";
import { FormError } from "../components/FormError";

/** Asks who gets what somebody made, before they are taken out of the workspace. */
export function RemoveDialog({
  person,
  heirs,
  me,
  workspace,
  onClose,
}: {
  person: Colleague;
  heirs: Colleague[];
  me: string;
  workspace: string;
  onClose: () => void;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const isMe = person.id === me;
  const [heir, setHeir] = useState((heirs.find((h) => h.id === me) ?? heirs[0]!).id);
  const done = fetcher.state === "idle" && fetcher.data?.error === null;
  useEffect(() => {
    if (done) onClose();
  }, [done, onClose]);
  const remove = () =>
    fetcher.submit({ do: "remove", person: person.id, heir }, { method: "post", action: "/workspace" });
  const whose = isMe ? "What you made here" : `What ${person.name} made here`;
  return (
    <Dialog open onClose={onClose} aria-labelledby="remove-title">
      <DialogTitle id="remove-title">
        {isMe ? `Leave ${workspace}?` : `Remove ${person.name} from ${workspace}?`}
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>
          {whose} passes to somebody else, with everything that was said about it. Nothing is lost, and the links go on
          working.
        </Typography>
        <SelectField
          label="It passes to"
          value={heir}
          names={Object.fromEntries(heirs.map((h) => [h.id, h.id === me ? `${h.name} (you)` : h.name]))}
          onChoose={setHeir}
          minWidth={240}
        />
        <FormError error={fetcher.data?.error} sx={{ mt: 2 }} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{isMe ? "Stay" : `Keep ${person.name}`}</Button>
        <Button variant="contained" color="clay" onClick={remove} disabled={fetcher.state !== "idle"}>
          {isMe ? "Leave" : "Remove"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
