import { styled } from "@mui/material/styles";
import { MaterialDesignContent } from "notistack";

/** A short notice, in the look of everything else: a square pane of ink with a bar that says of which kind it is. */
export const Snack = styled(MaterialDesignContent)({
  "&&": {
    marginTop: 44,
    borderRadius: 0,
    boxShadow: "none",
    fontFamily: "inherit",
    fontSize: "0.95rem",
    color: "var(--mui-palette-bar-contrastText)",
    backgroundColor: "var(--mui-palette-bar-main)",
    border: "1px solid var(--mui-palette-mist)",
    borderLeft: "6px solid var(--mui-palette-primary-main)",
  },
  "&&.notistack-MuiContent-error": { borderLeftColor: "var(--mui-palette-clay-main)" },
  "&&.notistack-MuiContent-warning": { borderLeftColor: "var(--mui-palette-marigold-main)" },
});
