import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { ReactNode } from "react";

interface Props {
  name: string;
  disabled: boolean;
  onTakeOff: () => void;
  /** what else can be done with it */
  more?: ReactNode;
  children: ReactNode;
}

/** Something that owners have named, in a list of such, with what takes it off. */
export function TakeOffRow({ name, disabled, onTakeOff, more, children }: Props) {
  return (
    <Box
      component="li"
      sx={{ display: "flex", gap: 0.5, alignItems: "center", borderTop: "1px solid", borderColor: "mist" }}
    >
      <Box sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>{children}</Box>
      {more}
      <Button size="small" aria-label={`Take ${name} off`} disabled={disabled} onClick={onTakeOff}>
        Take it off
      </Button>
    </Box>
  );
}
