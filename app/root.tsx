import "@fontsource-variable/bricolage-grotesque";
import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { SnackbarProvider } from "notistack";
import { use, type ReactNode } from "react";
import { Links, Meta, Outlet, Scripts, ScrollRestoration } from "react-router";
import type { Route } from "./+types/root";
import { NonceContext } from "./components/nonce";
import { Snack } from "./components/Snack";
import { Trouble } from "./components/Trouble";
import { theme } from "./theme";

export const meta: Route.MetaFunction = () => [{ title: "Clear Nod" }];
export const links: Route.LinksFunction = () => [
  { rel: "manifest", href: "/app.webmanifest" },
  { rel: "icon", href: "/icons/ready.svg", type: "image/svg+xml", id: "favicon" },
];

export function Layout({ children }: { children: ReactNode }) {
  const nonce = use(NonceContext);
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="color-scheme" content="light dark" />
        {/* Notices style themselves when they load; this is how their library learns what the policy allows. */}
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: "window.__nonce__=document.currentScript.nonce" }}
        />
        <Meta />
        <Links />
      </head>
      <body>
        <ThemeProvider theme={theme}>
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
        <ScrollRestoration nonce={nonce} />
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
