import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState, type KeyboardEvent } from "react";
import { DEED_NAMES, KEY_DEEDS, keyOf, USUAL_KEYS, withKey, type DeskKeys, type KeyDeed } from "#core/desk/keys";

interface Props {
  open: boolean;
  keys: DeskKeys;
  onKeys: (keys: DeskKeys) => void;
  onClose: () => void;
}

/** The keys of the record desk: each can be another one. */
export function DeskKeysDialog({ open, keys, onKeys, onClose }: Props) {
  /** the deed whose next key is waited for */
  const [asked, setAsked] = useState<KeyDeed | null>(null);
  const [problem, setProblem] = useState("");
  const press = (event: KeyboardEvent) => {
    if (!asked) return;
    if (event.key === "Escape") {
      event.stopPropagation();
      return setAsked(null);
    }
    const key = keyOf(event);
    if (!key) return;
    event.preventDefault();
    const next = withKey(keys, asked, key);
    if ("problem" in next) return setProblem(next.problem);
    onKeys(next.keys);
    setProblem("");
    setAsked(null);
  };
  const close = () => {
    setAsked(null);
    setProblem("");
    onClose();
  };
  return (
    <Dialog open={open} onClose={close} aria-labelledby="desk-keys" onKeyDown={press} fullWidth maxWidth="xs">
      <DialogTitle id="desk-keys">Keys</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 1 }}>
          Press a key here to give it to something else. They work on this page, unless you are typing.
        </Typography>
        <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", m: 0 }}>
          {KEY_DEEDS.map((deed) => (
            <Box key={deed} sx={{ display: "contents" }}>
              <Box component="dt">{DEED_NAMES[deed]}</Box>
              <Box component="dd" sx={{ m: 0, textAlign: "right" }}>
                <Button
                  aria-label={`${DEED_NAMES[deed]}: ${keys[deed] || "no key"}`}
                  onClick={() => setAsked(deed)}
                  sx={{ minWidth: 120 }}
                >
                  {asked === deed ? "Press a key" : keys[deed] || "none"}
                </Button>
              </Box>
            </Box>
          ))}
          <dt>This list</dt>
          <Box component="dd" sx={{ m: 0, textAlign: "center", fontWeight: 600 }}>
            ?
          </Box>
        </Box>
        <Typography role="alert" color="error" sx={{ minHeight: 24 }}>
          {problem}
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => onKeys(USUAL_KEYS)}>As they were first</Button>
        <Button onClick={close} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
