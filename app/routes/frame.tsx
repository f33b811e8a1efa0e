import Box from "@mui/material/Box";
import { Outlet } from "react-router";
import { Trouble } from "../components/Trouble";
import { TopBar } from "../components/TopBar";
import { Outgoing } from "../record/Outgoing";
import type { Route } from "./+types/frame";

export function loader({ context }: Route.LoaderArgs) {
  const member = context.member;
  return { person: member && { name: member.name, email: member.email, workspaceName: member.workspaceName } };
}

export default function Frame({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <SkipLink />
      <TopBar person={loaderData.person} />
      {loaderData.person && <Outgoing />}
      <main id="main" tabIndex={-1} style={{ outline: "none" }}>
        <Outlet />
      </main>
    </>
  );
}

export function ErrorBoundary({ error, loaderData }: Route.ErrorBoundaryProps & { loaderData?: Route.ComponentProps["loaderData"] }) {
  return (
    <>
      <TopBar person={loaderData?.person ?? null} />
      <main>
        <Trouble error={error} />
      </main>
    </>
  );
}

function SkipLink() {
  return (
    <Box component="a" href="#main" sx={{ position: "absolute", left: -9999, "&:focus": { left: 8, top: 8, zIndex: 10, bgcolor: "background.paper", p: 1 } }}>
      Skip to the page
    </Box>
  );
}
