import Box from "@mui/material/Box";
import useMediaQuery from "@mui/material/useMediaQuery";
import { useEffect, useState } from "react";
import { data } from "react-router";
import { newGuestKey } from "#server/answers/viewers";
import { isCurrent, REACTIONS } from "#core/answers/kinds";
import { BrandStyles } from "../brand/BrandStyles";
import { Notice } from "../components/Notice";
import { EmbedDoor } from "../embed/EmbedDoor";
import { EmbedPanel, type Panel } from "../embed/EmbedPanel";
import { EmbedStrip } from "../embed/EmbedStrip";
import { useEnd } from "../embed/useEnd";
import { Screen } from "../player/Screen";
import { usePlayerValue } from "../player/usePlayer";
import { ancestorsContext, appContext } from "../services/context.server";
import { closedDoor } from "../services/door.server";
import { guestCookie } from "../services/session.server";
import { shownAt } from "../services/shown.server";
import { useWatching } from "../watch/useWatching";
import type { Route } from "./+types/embed";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.title} · Clear Nod` : "A recording · Clear Nod" },
  { name: "robots", content: "noindex" },
];

/**
 * The player alone, for a page of a site that the workspace trusts. Whoever sees it there is nobody for us but somebody
 * who has the link: what needs an account, or a personal link, is not shown.
 */
export async function loader({ context, params, request }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { access, sites } = app.runtime;
  const found = await access.find(app.subject, params.token);
  // That there is nothing may be said in every page; it is the same for what is not there and what is not for them.
  const may = found.recording ? ["'self'", ...(await sites.of(found.recording.workspaceId))] : ["*"];
  context.set(ancestorsContext, may);
  if (found.door !== "open") throw closedDoor(found);
  const { searchParams } = new URL(request.url);
  const shown = {
    ...(await shownAt(app, found.recording)),
    comments: found.recording.comments && searchParams.get("comments") === "on",
    captioned: searchParams.get("captions") === "on",
  };
  // With the page itself: its embeds come at once, and are to be one guest before each of them says that it is there.
  return data(shown, app.guestKey === null ? { headers: { "set-cookie": guestCookie(app, newGuestKey()) } } : {});
}

export function ErrorBoundary({ error, params }: Route.ErrorBoundaryProps) {
  return (
    <main>
      <EmbedDoor error={error} token={params.token ?? ""} />
    </main>
  );
}

export default function Embed({ loaderData }: Route.ComponentProps) {
  const { playable, hasPoster, title, captions, captioned, comments } = loaderData;
  // One connection for each embed would be too many: a browser has six for one server, and a page may have ten embeds.
  const watching = useWatching(loaderData, { listens: false });
  const { state, opening, player, attach, react } = watching;
  const [panel, setPanel] = useState<Panel | null>(null);
  const wide = useMediaQuery("(min-width: 860px)");
  useEnd(player);
  const owes = state.ask.kind !== "nothing" && !state.ask.closed && !isCurrent(state.ask, state.answered);
  // Whoever has seen it to the end is asked, where that covers no words that stand there.
  const ended = usePlayerValue(player, (s) => s.ended);
  const asks = ended && owes && (wide || !playable?.dress.cards.closing);
  useEffect(() => {
    if (asks) setPanel("answer");
  }, [asks]);
  const beside = wide && panel !== null;
  return (
    <Box
      component="main"
      aria-label={title}
      sx={{ height: "100dvh", display: "flex", flexDirection: "column", position: "relative" }}
    >
      <BrandStyles brand={loaderData.brand} />
      <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        {playable?.preload.map((href) => (
          <link key={href} rel="preload" as="fetch" crossOrigin="anonymous" href={href} />
        ))}
        <Box sx={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column" }}>
          {playable ? (
            <Screen
              player={player}
              attach={attach}
              opening={opening}
              playable={playable}
              hasPoster={hasPoster}
              title={title}
              captions={captions}
              captioned={captioned}
              onReact={(place) => void react(REACTIONS[place]!)}
              lanes={null}
              embedded
            />
          ) : (
            <Notice title="Nothing to play yet">It has only just begun. This goes on by itself.</Notice>
          )}
        </Box>
        {panel && (
          <EmbedPanel
            panel={panel}
            beside={beside}
            shown={loaderData}
            watching={watching}
            onClose={() => setPanel(null)}
          />
        )}
      </Box>
      <EmbedStrip
        shown={loaderData}
        watching={watching}
        comments={comments}
        owes={owes}
        panel={panel}
        onPanel={(next) => setPanel(next === panel ? null : next)}
      />
    </Box>
  );
}
