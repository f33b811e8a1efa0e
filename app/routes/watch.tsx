import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { use, useEffect, useMemo, useRef } from "react";
import { preinitModule } from "react-dom";
import { parseFragment } from "#core/answers/fragment";
import { REACTIONS } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import { AskPane } from "../answers/AskPane";
import { CommentsPane } from "../answers/CommentsPane";
import { PeoplePane } from "../answers/PeoplePane";
import { ReactionBar, useReact } from "../answers/ReactionBar";
import { useAnchor } from "../answers/useAnchor";
import { useAnswers } from "../answers/useAnswers";
import { ViewerNote } from "../answers/ViewerNote";
import { NonceContext, PlayerModulesContext } from "../components/nonce";
import { Notice } from "../components/Notice";
import { workOnScreen } from "../components/work-on-screen";
import { useLatest } from "../components/useLatest";
import { useRefresh } from "../components/useRefresh";
import { Screen } from "../player/Screen";
import type { Player } from "../player/player";
import { usePlayer } from "../player/usePlayer";
import { useReporter } from "../player/useReporter";
import { orNotFound } from "../services/guard.server";
import { whoOf } from "../services/json.server";
import { AskSummary } from "../watch/AskSummary";
import { AboutLine } from "../watch/AboutLine";
import { RightAfter } from "../watch/RightAfter";
import { Cuts } from "../watch/Cuts";
import { TakesOrder } from "../watch/TakesOrder";
import { Stills } from "../watch/Stills";
import { ProposedChapters } from "../watch/ProposedChapters";
import { Lanes } from "../watch/Lanes";
import { heading, Meta, OwnHead } from "../watch/Head";
import { Side } from "../watch/Side";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/watch";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.title} · Clear Nod` : "Nothing here · Clear Nod" },
  { name: "robots", content: "noindex" },
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  const facts = await orNotFound(runtime.access.require(member, "watch", params.token));
  const mine = member?.id === facts.ownerId;
  // The number first: what is in the lists and told again does no harm, what is in neither would be missed.
  const newest = await runtime.events.newest(facts.id);
  const [details, playable, comments, reactions, ask, viewer, noted, takes] = await Promise.all([
    runtime.library.details(facts.id),
    runtime.playback.playable(facts.id, facts.token),
    runtime.comments.list(facts.id),
    runtime.reactions.list(facts.id),
    runtime.asks.of(facts.id),
    runtime.viewers.find(facts, whoOf(app)),
    mine ? runtime.library.noted(facts.id) : null,
    mine ? runtime.library.shownTakes(facts.id) : null,
  ]);
  return {
    ...details,
    playable,
    token: facts.token,
    audience: facts.audience,
    mine,
    served: { newest, revision: playable?.revision ?? null, comments, reactions, ask },
    answer: viewer && !mine ? await runtime.asks.answerOf(facts.id, viewer.id) : null,
    noted,
    takes,
    people: mine ? await runtime.people(facts.id, ask, Date.now()) : null,
    link: `${runtime.settings.publicUrl}/w/${facts.token}`,
  };
}

const AGAIN_MS = 2_000;

/** Nothing of one recording stays when another is opened. */
export default function Watch(props: Route.ComponentProps) {
  return <WatchPage key={props.loaderData.token} {...props} />;
}

function WatchPage({ loaderData }: Route.ComponentProps) {
  const {
    id,
    title,
    titleVersion,
    sender,
    createdAt,
    playable,
    token,
    hasPoster,
    mine,
    link,
    audience,
    served,
    answer,
    chapters,
    captions,
    description,
    tags,
    noted,
    takes,
  } = loaderData;
  const unfinished = playable?.state !== "complete";
  useRefresh(unfinished, AGAIN_MS);
  usePlayerFirst();
  const [people, askPeople] = useLatest(loaderData.people, `/recordings/${id}/people`);
  const { store, state } = useAnswers(token, served, askPeople);
  const opening = {
    token,
    layers: playable?.layers ?? [],
    duration: playable?.durationUs ?? 0,
    complete: playable?.state === "complete",
  };
  const { player, attach } = usePlayer(opening);
  useReporter(token, player, store);
  const react = useReact(store, player);
  const [anchor, setAnchor] = useAnchor(token, playable?.revision ?? null);
  const field = useRef<HTMLTextAreaElement>(null);
  useLinkedMoment(player);
  const seek = useMemo(() => (at: Micros) => player?.seek(at), [player]);

  const meta = (
    <Meta sender={sender} createdAt={createdAt} playable={playable} watching={mine ? state.watching : null} />
  );
  return (
    <>
      <Box sx={FIT} data-recording={id}>
        <Box sx={{ gridArea: "head", px: { xs: 1.5, sm: 0 }, minWidth: 0 }}>
          {mine ? (
            <OwnHead id={id} title={title} titleVersion={titleVersion} link={link} audience={audience} ask={state.ask}>
              {meta}
            </OwnHead>
          ) : (
            <>
              {heading(title)}
              <Typography variant="body2" color="text.secondary">
                {meta}
              </Typography>
            </>
          )}
          {mine && <RightAfter id={id} title={title} />}
          <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, alignItems: "baseline" }}>
            <AboutLine id={id} about={{ description, tags }} mine={mine} />
            {noted && chapters.length === 0 && <ProposedChapters id={id} proposed={noted.chapters} />}
            {takes && playable && !unfinished && <TakesOrder id={id} revision={playable.revision} takes={takes} />}
            {noted && <Stills moments={noted.stills} player={player} title={title} />}
            {mine && playable && !unfinished && <Cuts id={id} revision={playable.revision} player={player} />}
          </Box>
        </Box>
        {playable?.preload.map((href) => (
          <link key={href} rel="preload" as="fetch" crossOrigin="anonymous" href={href} />
        ))}
        <Box sx={{ gridArea: "player", minWidth: 0, minHeight: 0, display: "flex", flexDirection: "column" }}>
          {playable ? (
            <>
              <Screen
                player={player}
                attach={attach}
                opening={opening}
                playable={playable}
                hasPoster={hasPoster}
                title={title}
                captions={captions}
                onComment={() => field.current?.focus()}
                onReact={(place) => void react(REACTIONS[place]!)}
                lanes={
                  <Lanes
                    player={player}
                    state={state}
                    chapters={chapters}
                    anchor={anchor}
                    onAnchor={setAnchor}
                    onSeek={seek}
                    length={playable.durationUs}
                  />
                }
              />
              <ReactionBar
                store={store}
                disabled={!store || !state.me}
                own={state.reactions.filter((r) => r.author === state.me?.id)}
                onReact={(kind) => void react(kind)}
              />
            </>
          ) : (
            <Notice title="Nothing to play yet">
              The recording has begun, and its first seconds are on their way. This page goes on by itself.
            </Notice>
          )}
        </Box>
        <Side
          mine={mine}
          live={state.live}
          threads={state.comments.filter((c) => !c.replyTo && c.body !== null).length}
          ask={
            mine ? (
              people && <AskSummary ask={state.ask} people={people} recordingId={id} />
            ) : (
              <AskPane
                ask={state.ask}
                answer={answer}
                me={state.me}
                onSeek={seek}
                sender={sender}
                store={store}
                player={player}
              />
            )
          }
        >
          {{
            comments: (
              <CommentsPane
                store={store}
                state={state}
                player={player}
                token={token}
                link={link}
                anchor={anchor}
                field={field}
                onAnchor={setAnchor}
                onSeek={seek}
              />
            ),
            people: people && <PeoplePane recordingId={id} people={people} ask={state.ask} link={link} />,
          }}
        </Side>
      </Box>
      {!mine && <ViewerNote store={store} me={state.me} sender={sender} />}
    </>
  );
}

const FIT = workOnScreen({ side: 340, gap: 1.5 });

/** Runs the player before the page comes alive; see `player/early`. */
function usePlayerFirst() {
  const nonce = use(NonceContext);
  for (const module of use(PlayerModulesContext)) preinitModule(module, { as: "script", nonce });
}

/** A link to another moment of the page that is open (Media Fragments). The first one the player has read itself. */
function useLinkedMoment(player: Player | null) {
  useEffect(() => {
    const go = () => {
      const linked = parseFragment(location.hash);
      if (linked) player?.seek(linked.at);
    };
    window.addEventListener("hashchange", go);
    return () => window.removeEventListener("hashchange", go);
  }, [player]);
}
