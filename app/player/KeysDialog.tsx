import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { ANSWER_KEYS, KEYS, type KeyRow } from "./keys";

const LIST: KeyRow = { keys: "?", does: "This list" };

interface Props {
  open: boolean;
  /** comments and reactions have their keys */
  answers: boolean;
  more: readonly KeyRow[];
  onClose: () => void;
}

export function KeysDialog({ open, answers, more, onClose }: Props) {
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: 1, columnGap: 3, m: 0 }}>
          {[...KEYS, ...(answers ? ANSWER_KEYS : []), ...more, LIST].map(({ keys, does }) => (
            <Box key={keys} sx={{ display: "contents" }}>
              <Box component="dt" sx={{ fontWeight: 600 }}>
                {keys}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {does}
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
