import ButtonBase from "@mui/material/ButtonBase";
import { useState } from "react";
import { sayAudience } from "#core/access/sentence";
import { useSaidMoment } from "../components/When";
import { ShareDialog } from "./ShareDialog";
import type { Shared } from "./shared";
import { toTold } from "./words";

/** Who may open the link, in one sentence; pressed, it can be changed. */
export function ShareButton({ shared }: { shared: Shared }) {
  const [open, setOpen] = useState(false);
  const day = useSaidMoment();
  const said = sayAudience(toTold(shared.as), { workspace: shared.workspace, now: Date.now(), day });
  return (
    <>
      <ButtonBase
        aria-haspopup="dialog"
        onClick={() => setOpen(true)}
        title="Change who can open it"
        sx={{
          font: "inherit",
          color: "text.primary",
          textAlign: "left",
          borderBottom: "1px dashed",
          borderColor: "text.secondary",
          lineHeight: 1.4,
        }}
      >
        {shared.as.audience === "owner" ? "Draft: only you" : said}
      </ButtonBase>
      {open && <ShareDialog shared={shared} onClose={() => setOpen(false)} />}
    </>
  );
}
