import Button from "@mui/material/Button";
import { useState } from "react";
import { detailsOf } from "../record/diary";

const SAID = { ready: "Copy details", copied: "Details copied", refused: "They cannot be copied here" };

/** Where something failed: what was done before, to be sent to whoever can mend it. Nothing in it opens anything. */
export function CopyDetails({ failed }: { failed?: unknown }) {
  const [state, setState] = useState<keyof typeof SAID>("ready");
  const copy = () =>
    navigator.clipboard.writeText(detailsOf(failed)).then(
      () => setState("copied"),
      () => setState("refused"),
    );
  return (
    <Button size="small" color="inherit" onClick={() => void copy()}>
      <span role="status">{SAID[state]}</span>
    </Button>
  );
}
