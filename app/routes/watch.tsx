import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { may } from "#core/access/access";
import { parseFragment } from "#core/answers/fragment";
import { REACTIONS } from "#core/answers/kinds";
import { AskPane } from "../answers/AskPane";
import { CommentsPane } from "../answers/CommentsPane";
import { PeoplePane } from "../answers/PeoplePane";
import { ReactionBar } from "../answers/ReactionBar";
import { useAnchor } from "../answers/useAnchor";
import { ViewerNote } from "../answers/ViewerNote";
import { Notice } from "../components/Notice";
import { workOnScreen } from "../components/work-on-screen";
import { useLatest } from "../components/useLatest";
import { Screen } from "../player/Screen";
import type { Player } from "../player/player";
import { closedDoor } from "../services/door.server";
import { shownAt } from "../services/shown.server";
import { StrangersBar } from "../share/StrangersBar";
import { AskSummary } from "../watch/AskSummary";
import { AboutLine } from "../watch/AboutLine";
import { GoesSoon } from "../watch/GoesSoon";
import { RightAfter } from "../watch/RightAfter";
import { oembedLinks } from "#core/embed/oembed";
import { cardOf } from "../watch/card";
import { Cuts } from "../watch/Cuts";
import { TakeAlong } from "../watch/TakeAlong";
import { TakesOrder } from "../watch/TakesOrder";
import { Stills } from "../watch/Stills";
import { ProposedChapters } from "../watch/ProposedChapters";
import { Lanes } from "../watch/Lanes";
import { heading, Meta, OwnHead } from "../watch/Head";
import { Door } from "../watch/Door";
import { Side } from "../watch/Side";
import { useWatching } from "../watch/useWatching";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/watch";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.title} · Clear Nod` : "A recording · Clear Nod" },
  { name: "robots", content: "noindex" },
  ...cardOf(loaderData ?? null),
  ...(loaderData?.isPublic ? oembedLinks(loaderData.link, loaderData.title) : []),
];

export async function loader({ context, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { member, subject, runtime } = app;
  const found = await runtime.access.find(subject, params.token);
  if (found.door !== "open") throw closedDoor(found);
  const facts = found.recording;
  const mine = member?.id === facts.ownerId;
  const [shown, film, noted, takes, sharedAs] = await Promise.all([
    shownAt(app, facts),
    !mine && may(subject, "download", facts, Date.now()) ? runtime.films.of(facts.id) : null,
    mine ? runtime.library.noted(facts.id) : null,
    mine ? runtime.library.shownTakes(facts.id) : null,
    mine ? runtime.sharing.of(facts.id) : null,
  ]);
  return {
    ...shown,
    mine,
    film,
    shared: sharedAs && {
      id: facts.id,
      token: facts.token,
      link: shown.link,
      title: shown.title,
      frame: shown.playable?.frame ?? null,
      hasCaptions: shown.captions.length > 0,
      workspace: member?.memberships.find((m) => m.workspaceId === facts.workspaceId)?.workspaceName ?? "",
      as: sharedAs,
      mails: app.mails,
    },
    stranger: subject === null ? { needsName: facts.asksNames, mayComment: facts.comments } : null,
    noted,
    takes,
    people: mine ? await runtime.people(facts.id, shown.served.ask, Date.now()) : null,
  };
}

export function ErrorBoundary({ error, params }: Route.ErrorBoundaryProps) {
  return <Door error={error} token={params.token ?? ""} />;
}

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
    shared,
    stranger,
    answer,
    chapters,
    captions,
    description,
    tags,
    film,
    noted,
    takes,
  } = loaderData;
  const [people, askPeople] = useLatest(loaderData.people, `/recordings/${id}/people`);
  const { store, state, opening, player, attach, react, seek, unfinished } = useWatching(loaderData, {
    onPeople: askPeople,
    stranger,
  });
  const [anchor, setAnchor] = useAnchor(token, playable?.revision ?? null);
  const field = useRef<HTMLTextAreaElement>(null);
  useLinkedMoment(player);

  const meta = (
    <Meta sender={sender} createdAt={createdAt} playable={playable} watching={mine ? state.watching : null} />
  );
  return (
    <>
      {stranger && <StrangersBar token={token} />}
      <Box sx={FIT} data-recording={id}>
        <Box sx={{ gridArea: "head", px: { xs: 1.5, sm: 0 }, minWidth: 0 }}>
          {shared ? (
            <OwnHead
              id={id}
              title={title}
              titleVersion={titleVersion}
              shared={{ ...shared, people: people?.rows ?? [] }}
              ask={state.ask}
            >
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
          {shared?.as.goesAt && <GoesSoon id={id} goesAt={shared.as.goesAt} />}
          <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, alignItems: "baseline" }}>
            <AboutLine id={id} about={{ description, tags }} mine={mine} />
            {film && <TakeAlong token={token} film={film} />}
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
          threads={state.threads}
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
                // What is being written as oneself is neither shown to a stranger nor thrown away there.
                token={stranger ? `${token} as a stranger` : token}
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
