import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useFetcher } from "react-router";
import { Folded } from "../components/Folded";
import { RenameForm } from "../components/RenameForm";
import { MoveDialog } from "./MoveDialog";
import { FormError } from "../components/FormError";

/** What is rarely changed of a folder: its name, where it lies, whether it is there. */
export function FolderSettings({ folder: { id, name } }: { folder: { id: string; name: string } }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [moving, setMoving] = useState(false);
  const action = `/f/${id}`;
  const remove = () => {
    if (!window.confirm(`Take the folder “${name}” away? What lies in it lies in the one above then.`)) return;
    void fetcher.submit({ do: "remove" }, { method: "post", action });
  };
  return (
    <>
      <Folded title="This folder" value="its name, where it lies">
        <RenameForm
          label="Name of the folder"
          name={name}
          busy={fetcher.state !== "idle"}
          onRename={(next) => void fetcher.submit({ do: "rename", name: next }, { method: "post", action })}
        />
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          <Button variant="outlined" onClick={() => setMoving(true)}>
            Move it into another folder
          </Button>
          <Button color="clay" onClick={remove} disabled={fetcher.state !== "idle"}>
            Take it away
          </Button>
        </Box>
        <FormError error={fetcher.data?.error} />
      </Folded>
      {moving && (
        <MoveDialog moved={{ kind: "folder", ids: [id], name: `“${name}”` }} onClose={() => setMoving(false)} />
      )}
    </>
  );
}
