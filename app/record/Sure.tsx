import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";

interface Props {
  /** what is pressed first: `Discard` */
  name: string;
  /** what does it: `Discard it` */
  sure: string;
  onSure: () => void;
}

/** Something that cannot be undone: the first press asks. */
export function Sure({ name, sure, onSure }: Props) {
  const [asked, setAsked] = useState(false);
  if (!asked)
    return (
      <Button fullWidth onClick={() => setAsked(true)}>
        {name}
      </Button>
    );
  const does = () => {
    setAsked(false);
    onSure();
  };
  return (
    <Box role="group" aria-label={name} sx={{ display: "flex", gap: 1, gridColumn: "1 / -1" }}>
      <Button fullWidth variant="contained" color="clay" autoFocus onClick={does}>
        {sure}
      </Button>
      <Button fullWidth onClick={() => setAsked(false)}>
        Keep
      </Button>
    </Box>
  );
}
