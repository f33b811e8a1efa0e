import ExpandMore from "@mui/icons-material/ExpandMore";
import Box from "@mui/material/Box";
import { useEffect, useRef, useState, type ReactNode, type SyntheticEvent } from "react";

interface Props {
  title: string;
  value: string;
  /** opened from the start */
  open?: boolean;
  /** what is in it is made when it is first opened: not for fields of a form, which are sent closed as well */
  later?: boolean;
  /** it was opened, or closed again */
  onOpen?: (open: boolean) => void;
  children: ReactNode;
}

/** What is rarely changed: one line that says its present value, and opens. */
export function Folded({ title, value, open = false, later = false, onOpen, children }: Props) {
  const [wanted, setWanted] = useState(open || !later);
  const fold = useRef<HTMLDetailsElement>(null);
  // It may have been opened before the page came alive.
  useEffect(() => setWanted((before) => before || fold.current!.open), []);
  return (
    <Box
      ref={fold}
      component="details"
      open={open}
      onToggle={(event: SyntheticEvent<HTMLDetailsElement>) => {
        if (event.currentTarget.open) setWanted(true);
        onOpen?.(event.currentTarget.open);
      }}
      sx={{
        // Folds that stand together share their lines.
        "details + &": { borderTop: 0 },
        borderTop: "1px solid",
        borderBottom: "1px solid",
        borderColor: "mist",
        "& > summary > svg": { transition: "transform .15s" },
        "&[open] > summary > svg": { transform: "rotate(180deg)" },
        "@media (prefers-reduced-motion: reduce)": { "& > summary > svg": { transition: "none" } },
      }}
    >
      <Box
        component="summary"
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 1,
          py: 1,
          minHeight: 44,
          cursor: "pointer",
          listStyle: "none",
          "&::-webkit-details-marker": { display: "none" },
        }}
      >
        <Box component="span" sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
          <Box component="span" sx={{ fontWeight: 600 }}>
            {title}
          </Box>{" "}
          <Box component="span" sx={{ color: "text.secondary" }}>
            {value}
          </Box>
        </Box>
        <ExpandMore aria-hidden />
      </Box>
      <Box sx={{ display: "grid", gap: 2, pt: 1, pb: 2 }}>{wanted && children}</Box>
    </Box>
  );
}
