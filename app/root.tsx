import "@fontsource/bricolage-grotesque/600.css";
import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import headings from "@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-600-normal.woff2?url";
import words from "@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url";
import bold from "@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-600-normal.woff2?url";
import CssBaseline from "@mui/material/CssBaseline";
import GlobalStyles from "@mui/material/GlobalStyles";
import { ThemeProvider } from "@mui/material/styles";
import { SnackbarProvider } from "notistack";
import { use, type ReactNode } from "react";
import { Links, Meta, Outlet, Scripts, ScrollRestoration, useLocation } from "react-router";
import type { Route } from "./+types/root";
import { KEEP_EARLY_PRESS, useEarlyPress } from "./components/early-press";
import { NonceContext } from "./components/nonce";
import { Snack } from "./components/Snack";
import { Trouble } from "./components/Trouble";
import { theme } from "./theme";

export const meta: Route.MetaFunction = () => [{ title: "Clear Nod" }];
export const links: Route.LinksFunction = () => [
  // Asked for with the page: a font that is not there when it is first painted waits for the next one.
  ...[words, bold, headings].map((href) => ({
    rel: "preload",
    as: "font" as const,
    type: "font/woff2",
    crossOrigin: "anonymous" as const,
    href,
  })),
  { rel: "manifest", href: "/app.webmanifest" },
  { rel: "icon", href: "/icons/ready.svg", type: "image/svg+xml", id: "favicon" },
];

export function Layout({ children }: { children: ReactNode }) {
  const nonce = use(NonceContext);
  useEarlyPress();
  const embed = useLocation().pathname.startsWith("/e/");
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="color-scheme" content="light dark" />
        {/* Notices style themselves when they load: `__nonce__` tells their library what the policy allows. */}
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: `__nonce__ = document.currentScript.nonce;\n${KEEP_EARLY_PRESS}` }}
        />
        <Meta />
        <Links />
      </head>
      <body>
        {/* First of all: the library would put them last, and what is painted before would jump to its place. */}
        <GlobalStyles styles={theme.generateStyleSheets()} />
        <ThemeProvider theme={theme} disableStyleSheetGeneration>
          <CssBaseline />
          {/* Under the bar, where nothing is pressed: never over Play. */}
          <SnackbarProvider
            maxSnack={3}
            anchorOrigin={{ vertical: "top", horizontal: "center" }}
            Components={{ default: Snack, success: Snack, error: Snack, warning: Snack, info: Snack }}
          >
            {children}
          </SnackbarProvider>
        </ThemeProvider>
        {/* An embed goes nowhere, and some browsers keep nothing for it. */}
        {!embed && <ScrollRestoration nonce={nonce} />}
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function App() {
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Trouble error={error} />;
}
