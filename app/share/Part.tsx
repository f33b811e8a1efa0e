import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import MenuItem from "@mui/material/MenuItem";
import MenuList from "@mui/material/MenuList";
import Popover from "@mui/material/Popover";
import { useState, type ReactNode } from "react";

/** A part of a sentence that can be pressed to change it. */
export function Part({
  words,
  label,
  children,
}: {
  words: string;
  /** what is chosen there */
  label: string;
  children: (done: () => void) => ReactNode;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const done = () => setAnchor(null);
  return (
    <>
      <ButtonBase
        aria-label={`${label}: ${words}`}
        aria-haspopup="true"
        aria-expanded={anchor !== null}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{
          font: "inherit",
          fontWeight: 600,
          lineHeight: 1.35,
          verticalAlign: "baseline",
          textAlign: "left",
          display: "inline",
          borderBottom: "2px dotted",
          borderColor: "primary.main",
          "&:hover, &:focus-visible": { bgcolor: "mist" },
        }}
      >
        {words}
      </ButtonBase>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={done}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        slotProps={{ paper: { "aria-label": label, role: "group", sx: { maxWidth: 360 } } as object }}
      >
        {anchor && children(done)}
      </Popover>
    </>
  );
}

/** One of a few, each with what it means. */
export function Choices<T extends string>({
  names,
  value,
  words,
  onChoose,
}: {
  /** what is offered */
  names: Partial<Record<T, string>>;
  value: T;
  words?: Record<T, string>;
  onChoose: (value: T) => void;
}) {
  return (
    <MenuList autoFocusItem>
      {(Object.entries(names) as [T, string][]).map(([one, name]) => (
        <MenuItem
          key={one}
          role="menuitemradio"
          aria-checked={one === value}
          selected={one === value}
          onClick={() => onChoose(one)}
          sx={{ whiteSpace: "normal", display: "block" }}
        >
          {name}
          {words && (
            <Box component="span" sx={{ display: "block", fontSize: "0.85rem", color: "text.secondary" }}>
              {words[one]}
            </Box>
          )}
        </MenuItem>
      ))}
    </MenuList>
  );
}
