import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import { Outlet, useLocation, useMatches, useRevalidator } from "react-router";
import type { Brand } from "#server/workspaces/brands";
import { BrandStyles } from "../brand/BrandStyles";
import { Trouble } from "../components/Trouble";
import { TopBar } from "../components/TopBar";
import { useLatest } from "../components/useLatest";
import { tellZone } from "../components/zone";
import { LiveSource } from "../live/source";
import { RecorderBar } from "../record/RecorderBar";
import { theOutbox } from "../record/outbox";
import { Outgoing } from "../record/Outgoing";
import { useRemembered } from "../record/who";
import { useShell } from "../shell/useShell";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/frame";

export async function loader({ context }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  return {
    person: member && {
      id: member.id,
      name: member.name,
      email: member.email,
      portrait: member.portrait,
      workspaceId: member.workspaceId,
      workspaces: member.memberships.map((m) => ({ id: m.workspaceId, name: m.workspaceName })),
    },
    unread: member ? await runtime.inbox.unread(member.id) : 0,
  };
}

export default function Frame({ loaderData }: Route.ComponentProps) {
  const { pathname, search } = useLocation();
  const { person } = loaderData;
  // The page without the server knows nobody, and a look as a stranger has nobody; that is no news.
  const knowsNobody = pathname === "/here" || new URLSearchParams(search).get("as") === "stranger";
  useRemembered(person ?? (knowsNobody ? undefined : null));
  useEffect(() => {
    if (person) void theOutbox().showFor(person.id);
    if (person) tellZone();
  }, [person]);
  useShell(person !== null);
  const brand = useMatches().map(brandOf).find(Boolean);
  const [unread, askUnread] = useLatest(loaderData.unread, "/unread");
  return (
    <>
      <BrandStyles brand={brand ?? null} />
      <SkipLink />
      <TopBar person={person} unread={unread} brand={brand} />
      {person && <News onNews={askUnread} />}
      <RecorderBar />
      {person && <Outgoing />}
      <main id="main" tabIndex={-1} style={{ outline: "none" }}>
        <Outlet />
      </main>
    </>
  );
}

export function ErrorBoundary({
  error,
  loaderData,
}: Route.ErrorBoundaryProps & { loaderData?: Route.ComponentProps["loaderData"] }) {
  return (
    <>
      <TopBar person={loaderData?.person ?? null} />
      <main>
        <Trouble error={error} />
      </main>
    </>
  );
}

/** A page at a workspace's link says how that looks. */
const brandOf = ({ loaderData }: { loaderData?: unknown }) =>
  (loaderData as { brand?: Brand | null } | undefined)?.brand;

/** A page that shows what is said elsewhere says so, and is loaded anew when there is news. */
export interface Handle {
  showsNews: true;
}

/** What is said elsewhere shows in the bar by itself, and on the pages that are about it. */
function News({ onNews }: { onNews: () => void }) {
  const { revalidate } = useRevalidator();
  const shown = useMatches().some((match) => (match.handle as Handle | undefined)?.showsNews);
  const look = useRef(() => {});
  look.current = () => void (shown ? revalidate() : onNews());
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const soon = () => {
      clearTimeout(timer);
      timer = setTimeout(() => look.current(), 300);
    };
    let wasLive = true;
    const source = new LiveSource(
      () => "/news",
      soon,
      (live) => {
        // What was said while nobody listened is looked for now.
        if (live && !wasLive) soon();
        wasLive = live;
      },
    );
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }, []);
  return null;
}

function SkipLink() {
  return (
    <Box
      component="a"
      href="#main"
      sx={{
        position: "absolute",
        left: -9999,
        "&:focus": { left: 8, top: 8, zIndex: 10, bgcolor: "background.paper", p: 1 },
      }}
    >
      Skip to the page
    </Box>
  );
}
