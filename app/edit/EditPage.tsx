import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { useRevalidator } from "react-router";
import type { Deed } from "#core/recipe/history";
import { PUT_ON_POINTS, thinned, type Mark } from "#core/layout/mark";
import type { Dress, Put } from "#core/recipe/dress";
import { nearestPlace } from "#core/recipe/proposals";
import type { TakeStretch } from "#core/recipe/edits";
import { PlayOrder, RecordedLine } from "#core/recipe/recorded-line";
import { slipsIn } from "#core/recipe/slips";
import { beginningsIn } from "#core/recipe/beginnings";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import { formatClock, SECOND, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { ShownComment } from "#server/answers/comments";
import type { Draft } from "#server/editing/drafts";
import type { Look } from "#server/editing/look";
import type { Picture } from "#server/editing/pictures";
import type { DiscardedTakes } from "#server/recordings/discarded";
import type { Written } from "#server/recordings/library";
import type { Playable } from "#server/playback/playback";
import type { Chapter } from "#core/viewing/figures";
import { playAround } from "../player/around";
import { Screen } from "../player/Screen";
import { usePlayer } from "../player/usePlayer";
import { commentMarks } from "../timeline/lanes";
import type { Lane } from "../timeline/Timeline";
import { workOnScreen } from "../components/work-on-screen";
import { useCuts } from "../watch/useCuts";
import { useMusic } from "../player/useMusic";
import type { Heard } from "../player/useSound";
import { newId } from "../live/id";
import { BringInDialog } from "./BringInDialog";
import { CardsFold } from "./CardsFold";
import { Chapters } from "./Chapters";
import { DrawOver } from "./DrawOver";
import { EditLine } from "./EditLine";
import { EDIT_KEYS, onEditKey } from "./keys";
import { EditHead } from "./EditHead";
import { InRemoved } from "./InRemoved";
import { layerMarks } from "./layer-marks";
import { LayersFold } from "./LayersFold";
import { LineBar } from "./LineBar";
import { MarksFold, STAYS } from "./MarksFold";
import { PosterFold } from "./PosterFold";
import { Published } from "./Published";
import { Quiet } from "./Quiet";
import { sender } from "./saving";
import { EditSession } from "./session";
import { SoundFold } from "./SoundFold";
import { Steps } from "./Steps";
import { Takes } from "./Takes";
import { useDressed } from "./useDressed";
import { useLooks } from "./useLooks";
import { usePreview } from "./usePreview";
import { useQuiet } from "./useQuiet";

interface Props {
  id: string;
  token: string;
  title: string;
  /** on the source line; and what talking points could be */
  chapters: Chapter[];
  proposedChapters: Chapter[];
  hasPoster: boolean;
  posterAt: Micros | null;
  posterOwn: boolean;
  sender: string;
  createdAt: string;
  recorded: Playable;
  kept: Range[];
  dress: Dress;
  takes: TakeStretch[];
  revision: number;
  draft: Draft | null;
  looks: Look[];
  /** on the source line */
  comments: ShownComment[];
  captions: Written["captions"];
  discarded: DiscardedTakes | null;
}

/** Where an owner leaves out and puts back, sees it as it will be shown, and publishes it. */
export function EditPage(props: Props) {
  const {
    id,
    token,
    title,
    chapters,
    proposedChapters,
    hasPoster,
    posterAt,
    posterOwn,
    sender: presenter,
    createdAt,
  } = props;
  const {
    recorded,
    kept,
    dress: published,
    takes,
    revision,
    draft,
    looks: first,
    comments,
    captions,
    discarded,
  } = props;
  const [session] = useState(() => new EditSession(id, takes, draft, { kept, dress: published, revision }, sender(id)));
  const edit = useSyncExternalStore(session.subscribe, session.snapshot, session.snapshot);
  useEffect(() => {
    session.resume();
    return () => session.end();
  }, [session]);
  const { kept: shown, dress } = edit.shown;
  const line = useMemo(() => new RecordedLine(takes), [takes]);
  const order = useMemo(() => new PlayOrder(line, shown), [line, shown]);
  const cuts = useMemo(() => line.cuts(shown), [line, shown]);
  const onLine = useMemo(() => new Map(takes.map((take) => [takeOf(take.from), line.of(take)])), [takes, line]);
  const { revalidate } = useRevalidator();
  const { looks, known, coming, suppression } = useLooks(id, first, dress.suppression?.microphone === true, revalidate);
  const playable = useDressed(recorded, line, dress, suppression === "made");
  const opening = { token: id, layers: playable.layers, duration: line.length, complete: true };
  const heard = useMemo(
    (): Heard => ({
      ...playable.dress,
      gains: dress.gains ?? {},
      shown: (at) => ({ at: order.shownAt(at), length: order.length }),
    }),
    [playable.dress, dress.gains, order],
  );
  const { player, attach } = usePlayer(opening, heard);
  const [whole, setWhole] = useState(false);
  usePreview(player, whole ? null : order);
  const [zoom, setZoom] = useState(1);
  const [chosen, setChosen] = useState<Range | null>(null);
  const [snaps, setSnaps] = useState(true);
  const quiet = useQuiet(looks, takes, shown);
  const bed = dress.music?.bed;
  const music = useMemo(
    () => (bed ? { ...bed, speech: quiet.speech.flatMap((stretch) => line.toShownRanges(stretch)) } : null),
    [bed, quiet.speech, line],
  );
  useMusic(player, music, heard);
  const words = useMemo(
    () => captions.flatMap((one) => line.toShownRanges(one).map((range) => ({ ...range, text: one.text }))),
    [captions, line],
  );
  const slips = useMemo(() => slipsIn(captions), [captions]);
  const places = useMemo(() => {
    const ends = [...cuts, ...words].flatMap(({ from, to }) => [from, to]);
    return [...quiet.places.map((at) => line.at(at)), ...ends];
  }, [quiet.places, cuts, words, line]);
  const beginnings = useMemo(() => {
    const changes = known.flatMap(({ position, changes }) =>
      changes.map(({ at, share }) => ({ at: line.at(startOfTake(position) + at), share })),
    );
    const pauses = quiet.places.map((at) => line.at(at));
    return beginningsIn(changes, pauses, line.length).map((at) => line.momentOf(line.onFrame(at)));
  }, [known, quiet.places, line]);
  const snap = (at: Micros, within: Micros) => line.onFrame(snaps ? nearestPlace(at, places, within) : at);

  const { publishing, error, proposals } = useCuts(id, revision);
  const [asked, setAsked] = useState(false);
  const publish = async () => {
    if (await session.publish()) {
      setAsked(true);
      void revalidate();
    }
  };
  useEffect(() => {
    // Published from here: from now on that is what is changed.
    if (asked && revision > edit.seen) {
      setAsked(false);
      session.published(revision);
    }
  }, [asked, revision, edit.seen, session]);
  useEffect(() => {
    if (error) setAsked(false);
  }, [error]);

  const act = (stretch: Range, what: "leave-out" | "put-back") => {
    for (const part of line.toSource(stretch)) session.act({ do: what, ...part });
  };
  const onMove = (cut: Range, next: Range) => {
    if (next.from < cut.from) act({ from: next.from, to: cut.from }, "leave-out");
    if (next.from > cut.from) act({ from: cut.from, to: next.from }, "put-back");
    if (next.to > cut.to) act({ from: cut.to, to: next.to }, "leave-out");
    if (next.to < cut.to) act({ from: next.to, to: cut.to }, "put-back");
  };
  const around = useRef<(() => void) | null>(null);
  useEffect(() => () => around.current?.(), []);
  const playStretch = (stretch: Range) => {
    around.current?.();
    if (player) around.current = playAround(player, stretch);
  };
  const isOut = chosen !== null && cuts.some((cut) => cut.from <= chosen.from && chosen.to <= cut.to);
  const touchesOut = chosen !== null && cuts.some((cut) => cut.from < chosen.to && chosen.from < cut.to);
  const put = (puts: Put[]) => puts.length > 0 && session.act({ do: "dress", puts });
  const [bringing, setBringing] = useState<Micros | null>(null);
  const [drawing, setDrawing] = useState(false);
  const [putting, setPutting] = useState<Picture | null>(null);
  const draws = drawing || putting !== null;
  const isChosen = chosen !== null && chosen.to > chosen.from;
  const stretch = isChosen ? chosen : { from: 0, to: line.length };
  const draw = (mark: Mark) => {
    const at = line.onFrame(player?.snapshot().time ?? 0);
    const [seen] = line.toSource(isChosen ? chosen : { from: at, to: Math.min(line.length, at + STAYS) });
    setPutting(null);
    // Whole from its first moment: it was not drawn while it was recorded.
    const path = thinned(mark.path, PUT_ON_POINTS).map((value, i) => (i % 3 === 2 ? 0 : value));
    if (seen) put([{ facet: "marks", id: newId(), value: { ...seen, mark: { ...mark, path, staysMs: null } } }]);
  };
  const deeds = {
    leaveOut: () => chosen && chosen.to > chosen.from && !isOut && act(chosen, "leave-out"),
    putBack: () => chosen && touchesOut && act(chosen, "put-back"),
    from: () => player && setChosen(stretched(line.onFrame(player.snapshot().time), chosen?.to ?? line.length)),
    to: () => player && setChosen(stretched(chosen?.from ?? 0, line.onFrame(player.snapshot().time))),
    around: () => chosen && playStretch(chosen),
    undo: () => session.undo(),
    redo: () => session.redo(),
    snap: () => setSnaps((on) => !on),
    wider: () => setZoom((z) => Math.min(mostZoom(line.length), z * 2)),
    narrower: () => setZoom((z) => Math.max(1, z / 2)),
    step: (frames: number) => {
      if (!player) return;
      player.pause();
      player.seek(line.onFrame(player.snapshot().time + frames * FRAME));
    },
  };
  const onKey = useRef(deeds);
  onKey.current = deeds;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest("input:not([type=range]), textarea, [role=dialog], [role=listbox], [role=combobox]")) return;
      if (onEditKey(event, onKey.current)) event.preventDefault();
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, []);

  const lanes = useMemo((): Lane[] => {
    const marked = comments.map((c) => ({ ...c, ...spanOf(line, c) }));
    const layered = layerMarks(line, dress, (NEAR * line.length) / zoom);
    return [
      ...(chapters.length > 0
        ? [{ name: "Chapters", chapters: chapters.map((c) => ({ ...c, at: line.at(c.at) })) }]
        : []),
      ...(layered.length > 0 ? [{ name: "Layers", marks: layered }] : []),
      ...(marked.length > 0 ? [{ name: "Comments", marks: commentMarks(marked, null) }] : []),
    ];
  }, [chapters, comments, line, dress, zoom]);
  const here = () => line.momentOf(line.onFrame(player?.snapshot().time ?? 0));
  return (
    <Box sx={FIT}>
      <EditHead
        id={id}
        token={token}
        title={title}
        session={session}
        edit={edit}
        current={{ kept, dress: published, revision }}
        publishing={publishing}
        error={error}
        waitsForVoice={suppression === "wanted"}
        onPublish={() => void publish()}
      />
      <Box sx={{ gridArea: "player", minWidth: 0, minHeight: 0, display: "flex", flexDirection: "column" }}>
        <Screen
          player={player}
          attach={attach}
          opening={opening}
          playable={draws ? { ...playable, dress: { ...playable.dress, zooms: [], views: {} } } : playable}
          over={
            draws && playable.frame ? (
              <DrawOver player={player} playable={playable} putting={putting} onDraw={draw} />
            ) : undefined
          }
          editing
          hasPoster={false}
          pictureAt={(picture) => `/recordings/${id}/pictures/${picture}`}
          title={title}
          captions={words}
          keys={EDIT_KEYS}
          lanes={
            <>
              <EditLine
                player={player}
                length={line.length}
                takes={onLine}
                cuts={cuts}
                looks={looks}
                words={words}
                lanes={lanes}
                zoom={zoom}
                chosen={chosen}
                onChoose={setChosen}
                snap={snap}
                onMove={onMove}
                onSeek={(at) => player?.seek(at)}
              />
              <LineBar
                chosen={chosen}
                isOut={isOut}
                touchesOut={touchesOut}
                deeds={deeds}
                zoom={zoom}
                most={mostZoom(line.length)}
                snaps={snaps}
                coming={coming}
              />
            </>
          }
        />
      </Box>
      <Box sx={{ gridArea: "side", minWidth: 0, overflowY: { md: "auto" }, px: { xs: 1.5, sm: 0 } }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, flexWrap: "wrap", mb: 1 }}>
          <Box component="span" sx={{ fontWeight: 600 }}>
            <span className="clock">{formatClock(order.length)}</span> of{" "}
            <span className="clock">{formatClock(line.length)}</span> shown
          </Box>
          <Button size="small" aria-pressed={whole} onClick={() => setWhole(!whole)} sx={{ ml: "auto" }}>
            {whole ? "Play what is shown" : "Play everything"}
          </Button>
        </Box>
        <Quiet
          quiet={quiet}
          others={[...proposals, ...slips].filter((one) => isShown(shown, one))}
          line={line}
          onListen={(stretch) => playStretch(line.of(stretch))}
          onTake={(stretches) => {
            for (const { from, to } of stretches) session.act({ do: "leave-out", from, to });
          }}
        />
        <Takes
          takes={takes}
          shown={shown}
          line={line}
          onDeed={(deed) => session.act(deed)}
          onSeek={(at) => player?.seek(at)}
          id={id}
          discarded={discarded}
          onBring={() => setBringing(order.shownAt(line.onFrame(player?.snapshot().time ?? 0)))}
        />
        {bringing !== null && (
          <BringInDialog id={id} session={session} now={bringing} onClose={() => setBringing(null)} />
        )}
        <SoundFold
          looks={known.filter((look) => look.made)}
          dress={dress}
          suppression={suppression}
          chosen={isChosen ? { sources: line.toSource(chosen), words: wordsOf(chosen) } : null}
          onPut={put}
        />
        {playable.frame && (
          <>
            <LayersFold
              dress={dress}
              layers={recorded.layers}
              line={line}
              stretch={stretch}
              chosen={isChosen}
              onPut={put}
              onSeek={(at) => player?.seek(at)}
            />
            <MarksFold
              id={id}
              putting={putting}
              onPutting={setPutting}
              marks={dress.marks}
              line={line}
              drawing={drawing}
              chosen={isChosen ? chosen : null}
              now={here}
              onDrawing={setDrawing}
              onPut={put}
              onSeek={(at) => player?.seek(at)}
            />
          </>
        )}
        <CardsFold
          cards={dress.cards}
          title={title}
          name={presenter}
          date={new Date(createdAt).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" })}
          onPut={put}
        />
        <Chapters
          id={id}
          chapters={chapters}
          proposed={proposedChapters}
          beginnings={beginnings}
          line={line}
          now={here}
          onSeek={(at) => player?.seek(at)}
        />
        {recorded.frame && (
          <PosterFold
            id={id}
            token={token}
            title={title}
            hasPoster={hasPoster}
            posterAt={posterAt}
            posterOwn={posterOwn}
            line={line}
            now={() => (isShown(kept, { from: here(), to: here() + 1 }) ? here() : null)}
          />
        )}
        <Published id={id} revision={revision} onDeed={(deed) => session.act(deed)} />
        <InRemoved comments={comments} shown={shown} line={line} onSeek={(at) => player?.seek(at)} />
        <Steps
          history={edit.history}
          line={line}
          canReset={cuts.length > 0 || Object.keys(dress).length > 0}
          onUndo={() => session.undo()}
          onRedo={() => session.redo()}
          onReset={() => session.act({ do: "as-recorded" } satisfies Deed)}
        />
      </Box>
    </Box>
  );
}

const spanOf = (line: RecordedLine, { at, until }: ShownComment) => ({
  at: line.at(at),
  until: until === null ? null : line.at(at) + until - at,
});
/** As near as two things of a lane stand to be pressed apart, on a narrow screen. A share of the line as it is seen */
const NEAR = 0.07;
const FRAME: Micros = SECOND / 30;
/** So wide that a frame is as wide as a finger. */
const mostZoom = (length: Micros) => 2 ** Math.max(1, Math.ceil(Math.log2((length / SECOND) * 0.5)));
const stretched = (from: Micros, to: Micros): Range => ({ from: Math.min(from, to), to: Math.max(from, to) });
const wordsOf = ({ from, to }: Range) => `The stretch from ${formatClock(from)} to ${formatClock(to)}`;
const isShown = (shown: readonly Range[], { from, to }: Range) => shown.some((s) => s.from < to && from < s.to);

const FIT = workOnScreen({ side: 300, gap: 1 });
