import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useRevalidator } from "react-router";
import { MoveDialog } from "../folders/MoveDialog";
import type { Shared } from "./shared";

/** In which folder a recording lies; it can be put into another one. */
export function WhereItLies({ shared: { id, as } }: { shared: Shared }) {
  const [moving, setMoving] = useState(false);
  const { revalidate } = useRevalidator();
  const close = (done: boolean) => {
    setMoving(false);
    if (done) void revalidate();
  };
  const moved = { kind: "recordings" as const, ids: [id], name: "It", drafts: as.audience === "owner" ? 1 : 0 };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap", mb: 1 }}>
      {as.folder === null ? "It lies in no folder." : `It lies in “${as.folder}”.`}
      <Button size="small" onClick={() => setMoving(true)}>
        {as.folder === null ? "Put it into a folder" : "Move it"}
      </Button>
      {moving && <MoveDialog moved={moved} here={as.folderId ?? undefined} onClose={close} />}
    </Box>
  );
}
