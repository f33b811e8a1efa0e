import ContentCopy from "@mui/icons-material/ContentCopy";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { use } from "react";
import { preinitModule } from "react-dom";
import { useFetcher } from "react-router";
import { formatClock, isoDuration, spokenLength } from "#core/time/micros";
import { EditableTitle } from "../components/EditableTitle";
import { NonceContext, PlayerModulesContext } from "../components/nonce";
import { Notice } from "../components/Notice";
import { useCopy } from "../components/useCopy";
import { useRefresh } from "../components/useRefresh";
import { When } from "../components/When";
import { Screen } from "../player/Screen";
import { orNotFound } from "../services/guard.server";
import type { Route } from "./+types/watch";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.title} · Clear Nod` : "Nothing here · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const { member, runtime } = context;
  const facts = await orNotFound(runtime.access.require(member, "watch", params.token));
  const [details, playable] = await Promise.all([runtime.library.details(facts.id), runtime.playback.playable(facts.id, facts.token)]);
  return {
    ...{ ...details, playable, token: facts.token, audience: facts.audience },
    mine: member?.id === facts.ownerId,
    link: `${runtime.settings.publicUrl}/w/${facts.token}`,
  };
}

const AGAIN_MS = 2_000;

export default function Watch({ loaderData }: Route.ComponentProps) {
  const { id, title, sender, createdAt, playable, token, hasPoster, mine, link, audience } = loaderData;
  const unfinished = playable?.state !== "complete";
  useRefresh(unfinished, AGAIN_MS);
  usePlayerFirst();
  const heading = (shown: string) => (
    <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
      {shown}
    </Typography>
  );
  return (
    <Box sx={{ maxWidth: 1160, mx: "auto", px: { xs: 0, sm: 3 }, py: { xs: 0, sm: 3 } }}>
      <Box sx={{ px: { xs: 1.5, sm: 0 }, py: { xs: 1.5, sm: 0 }, mb: { sm: 2 }, display: "grid", gap: 0.5 }}>
        {mine ? (
          <EditableTitle id={id} title={title}>
            {heading}
          </EditableTitle>
        ) : (
          heading(title)
        )}
        <Typography color="text.secondary">
          {sender}, <When at={createdAt} />
          {playable && (
            <>
              ,{" "}
              <time dateTime={isoDuration(playable.durationUs)} aria-label={spokenLength(playable.durationUs)}>
                {formatClock(playable.durationUs)}
              </time>
            </>
          )}
        </Typography>
        {mine && <Sharing id={id} link={link} audience={audience} />}
        {playable && unfinished && (
          <Typography role="status" sx={{ borderLeft: "4px solid", borderColor: "clay.main", pl: 1 }}>
            {playable.state === "uploading"
              ? "The recording has ended; its last parts are still on their way."
              : playable.paused
                ? "This is being recorded right now, and is paused."
                : "This is being recorded right now. It plays as it grows."}
          </Typography>
        )}
      </Box>
      {playable?.preload.map((href) => <link key={href} rel="preload" as="fetch" crossOrigin="anonymous" href={href} />)}
      {playable ? (
        <Screen key={token} token={token} playable={playable} hasPoster={hasPoster} title={title} />
      ) : (
        <Notice title="Nothing to play yet">The recording has begun, and its first seconds are on their way. This page goes on by itself.</Notice>
      )}
    </Box>
  );
}

/** Runs the player before the page comes alive; see `player/early`. */
function usePlayerFirst() {
  const nonce = use(NonceContext);
  for (const module of use(PlayerModulesContext)) preinitModule(module, { as: "script", nonce });
}

/** For the owner: who can open the link, and the link itself. */
function Sharing({ id, link, audience }: { id: string; link: string; audience: "owner" | "anyone" }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const copy = useCopy();
  const shown = fetcher.formData ? fetcher.formData.get("audience") : audience;
  const share = (audience: "owner" | "anyone") => void fetcher.submit({ do: "share", audience }, { method: "post", action: `/recordings/${id}` });
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", mt: 1, py: 1, borderTop: "1px solid", borderBottom: "1px solid", borderColor: "mist" }}>
      <Typography role="status" sx={{ flex: { xs: "1 0 100%", sm: "0 1 auto" } }}>
        {shown === "owner" ? "A draft: only you can open the link." : "Anyone with the link can watch."}
      </Typography>
      {shown === "owner" ? (
        <Button variant="contained" onClick={() => { share("anyone"); void copy(link, "Shared, and the link is copied"); }}>
          Share with anyone who has the link
        </Button>
      ) : (
        <Button onClick={() => share("owner")}>Make it a draft again</Button>
      )}
      <Button variant="outlined" startIcon={<ContentCopy />} onClick={() => void copy(link)}>
        Copy link
      </Button>
      {fetcher.data?.error && <Typography role="alert" color="error">{fetcher.data.error}</Typography>}
    </Box>
  );
}
