import { useDroppable } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, useFetcher, useNavigate } from "react-router";
import type { FolderLine } from "#server/folders/folders";
import { archRadius } from "../components/Arch";

interface Props {
  folders: readonly FolderLine[];
  /** there are more than are shown */
  more: boolean;
  /** in which folder another one can be made; null for none, undefined where none can */
  newIn?: string | null;
}

/** Folders side by side; recordings can be dropped on them. */
export function Shelf({ folders, more, newIn }: Props) {
  if (folders.length === 0 && newIn === undefined) return null;
  return (
    <Box component="nav" aria-label="Folders" sx={{ px: { xs: 1.5, sm: 0 }, mb: 3 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "end" }}>
        {folders.length > 0 && (
          <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, display: "flex", flexWrap: "wrap", gap: 1 }}>
            {folders.map((folder) => (
              <OnShelf key={folder.id} folder={folder} />
            ))}
          </Box>
        )}
        {newIn !== undefined && <NewFolder within={newIn} />}
      </Box>
      {more && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          There are more folders. “Move to a folder” finds every one by its name.
        </Typography>
      )}
    </Box>
  );
}

function OnShelf({ folder }: { folder: FolderLine }) {
  const { setNodeRef, isOver } = useDroppable({ id: `folder ${folder.id}`, data: folder });
  return (
    <Box component="li" ref={setNodeRef} sx={{ maxWidth: 260 }}>
      <Box
        component={Link}
        to={`/f/${folder.id}`}
        sx={{
          display: "block",
          px: 2,
          pt: 1.25,
          pb: 0.75,
          minHeight: 44,
          border: "1px solid",
          borderBottomWidth: 3,
          borderColor: isOver ? "marigold.main" : "mist",
          borderBottomColor: isOver ? "marigold.main" : "primary.main",
          borderRadius: archRadius,
          bgcolor: "background.paper",
          color: "text.primary",
          textDecoration: "none",
          overflowWrap: "anywhere",
          "&:hover": { textDecoration: "underline" },
        }}
      >
        {folder.name}
      </Box>
    </Box>
  );
}

/** A name is given, and the folder is there. */
function NewFolder({ within }: { within: string | null }) {
  const fetcher = useFetcher<{ error: string | null; id?: string | null }>();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const made = fetcher.state === "idle" ? fetcher.data?.id : null;
  useEffect(() => {
    if (!made) return;
    setOpen(false);
    setName("");
    void navigate(`/f/${made}`);
  }, [made, navigate]);
  if (!open)
    return (
      <Button size="small" onClick={() => setOpen(true)} sx={{ minHeight: 44 }}>
        New folder
      </Button>
    );
  return (
    <Box
      component="form"
      aria-label="A new folder"
      onSubmit={(e) => {
        e.preventDefault();
        void fetcher.submit({ do: "make", name, in: within ?? "" }, { method: "post", action: "/folders" });
      }}
      sx={{ display: "flex", gap: 1, alignItems: "flex-start", flexWrap: "wrap" }}
    >
      <TextField
        size="small"
        autoFocus
        label="Its name"
        value={name}
        onChange={(e) => setName(e.target.value)}
        error={Boolean(fetcher.data?.error)}
        helperText={fetcher.data?.error}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <Button type="submit" variant="contained" disabled={name.trim() === "" || fetcher.state !== "idle"}>
        Make it
      </Button>
      <Button onClick={() => setOpen(false)}>Cancel</Button>
    </Box>
  );
}
