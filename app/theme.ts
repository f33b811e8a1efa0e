import { createTheme } from "@mui/material/styles";
import { SURFACES } from "#core/brand/surfaces";

declare module "@mui/material/styles" {
  interface CssThemeVariables {
    enabled: true;
  }
  interface Palette {
    /** nods and asks */
    marigold: Palette["primary"];
    /** recording, errors, "not clear yet" */
    clay: Palette["primary"];
    bar: { main: string; contrastText: string };
    mist: string;
  }
  interface PaletteOptions {
    marigold?: PaletteOptions["primary"];
    clay?: PaletteOptions["primary"];
    bar?: { main: string; contrastText: string };
    mist?: string;
  }
}
declare module "@mui/material/Button" {
  interface ButtonPropsColorOverrides {
    clay: true;
    marigold: true;
  }
}

const HEADING = '"Bricolage Grotesque", Georgia, serif';
const TEXT = '"Atkinson Hyperlegible Next", Verdana, sans-serif';

const { light, dark } = SURFACES;

/** Paper, panes and ink of a glasshouse workshop; square corners, hairlines instead of shadows. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "media" },
  colorSchemes: {
    light: {
      palette: {
        background: { default: light.papers[0], paper: light.papers[1] },
        text: { primary: "#16302B", secondary: "#48605A" },
        primary: { main: "#2F7D5B", dark: "#24634A", contrastText: light.onAccent },
        error: { main: "#B4502D", contrastText: "#FFFFFF" },
        marigold: { main: light.focus, dark: "#A86F00", contrastText: "#16302B" },
        clay: { main: "#B4502D", dark: "#913F22", contrastText: "#FFFFFF" },
        bar: { main: "#16302B", contrastText: light.onBar },
        mist: "#DDE5E0",
        divider: "#DDE5E0",
      },
    },
    dark: {
      palette: {
        background: { default: dark.papers[0], paper: dark.papers[1] },
        text: { primary: "#E9EFEA", secondary: "#A9BDB5" },
        primary: { main: "#6FC79D", dark: "#8DD6B3", contrastText: dark.onAccent },
        error: { main: "#F0916C", contrastText: "#0F1C19" },
        marigold: { main: dark.focus, dark: "#F5C767", contrastText: "#0F1C19" },
        clay: { main: "#F0916C", dark: "#F5AB8D", contrastText: "#0F1C19" },
        bar: { main: "#0A1412", contrastText: dark.onBar },
        mist: "#2C423B",
        divider: "#2C423B",
      },
    },
  },
  shape: { borderRadius: 0 },
  typography: {
    fontFamily: TEXT,
    h1: { fontFamily: HEADING, fontWeight: 600, fontSize: "2rem", lineHeight: 1.15 },
    h2: { fontFamily: HEADING, fontWeight: 600, fontSize: "1.25rem", lineHeight: 1.25 },
    h3: { fontFamily: HEADING, fontWeight: 600, fontSize: "1.05rem", lineHeight: 1.3 },
    button: { textTransform: "none", fontWeight: 600, fontSize: "1rem" },
    body1: { fontSize: "1rem", lineHeight: 1.5 },
    body2: { fontSize: "0.92rem", lineHeight: 1.5 },
  },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true }, styleOverrides: { root: { fontFamily: "inherit" } } },
    MuiButton: {
      defaultProps: { disableElevation: true },
      styleOverrides: {
        root: { minHeight: 40 },
        // Under the pointer by a line: a tint behind the words would take from their contrast.
        text: { "&:hover": { backgroundColor: "transparent", boxShadow: "inset 0 -2px 0 currentColor" } },
        outlined: { "&:hover": { backgroundColor: "transparent", boxShadow: "inset 0 0 0 1px currentColor" } },
      },
    },
    MuiChip: { styleOverrides: { root: { borderRadius: 0 } } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          border: "1px solid var(--mui-palette-mist)",
          backgroundColor: "var(--mui-palette-background-paper)",
          color: "var(--mui-palette-text-primary)",
          "&.Mui-selected, &.Mui-selected:hover": {
            color: "var(--mui-palette-text-primary)",
            backgroundColor: "var(--mui-palette-mist)",
            fontWeight: 600,
            boxShadow: "inset 0 -3px 0 var(--mui-palette-primary-main)",
          },
        },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0, variant: "outlined" } },
    MuiMenu: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: { paper: { border: "1px solid var(--mui-palette-mist)" } },
    },
    MuiDialog: { defaultProps: { transitionDuration: 0 } },
    MuiCssBaseline: {
      styleOverrides: {
        "*:focus-visible": { outline: "3px solid var(--mui-palette-marigold-main)", outlineOffset: 2 },
        ".clock": { fontVariantNumeric: "tabular-nums" },
        a: { color: "var(--mui-palette-primary-main)" },
        "@media (prefers-reduced-motion: reduce)": {
          "*": { animation: "none !important", transition: "none !important" },
        },
      },
    },
  },
});
