import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Arrangement } from "#core/layout/layout";
import type { Choice, RecorderState } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { lacks } from "#capture/support";
import { askProblem } from "#core/answers/kinds";
import { rateOf } from "#core/media/quality";
import { cameraSize } from "#core/media/rates";
import { showsCamera, showsScreen, type TakeSource } from "#core/media/tracks";
import type { Room } from "#server/desk/room";
import { nextAt } from "#core/time/next-at";
import { tidyTitle } from "#core/title/title";
import type { SetUp } from "#server/desk/set-ups";
import { RehearsalPane } from "./RehearsalPane";
import { usePrompts } from "./usePrompts";
import { hasPrompts, PromptsPane } from "./PromptsPane";
import { useAlarmSound } from "./useTelling";
import { leaveBack, useGoingBack } from "./going-back";
import { WhereFrom } from "./WhereFrom";
import { arrangeDeeds, cameraDeeds, takeDeeds, windowDeeds } from "./deeds";
import { useDeskKeys } from "./useDeskKeys";
import { DeskKeysDialog } from "./DeskKeysDialog";
import { useRehearsal, type Rehearsals } from "./useRehearsal";
import { useGain } from "./useGain";
import { useAbout } from "./useAbout";
import { AboutFold } from "./AboutFold";
import { proposeTitle } from "#core/title/title";
import { noAsk } from "../answers/AskEditor";
import { useInBrowser } from "../components/When";
import { Arrange } from "../components/Arrange";
import { LevelBar } from "./LevelBar";
import { useOutbox } from "./outbox";
import { Alerts } from "./Alerts";
import { doubtOf, kindsOf, limitOf, localMoment } from "./choice";
import { Controls } from "./Controls";
import { AreaPanel } from "./AreaPanel";
import { useArea } from "./area";
import { useProduced } from "./produced";
import { ReadyCheck } from "./ReadyCheck";
import { Setup } from "./Setup";
import { DrawBar } from "./DrawBar";
import { DrawPad } from "./DrawPad";
import { useDraws } from "./pen";
import { Stage } from "./Stage";
import { StateBand } from "./StateBand";
import { useDevices } from "./useDevices";
import { useFreeSpace, useReadyCheck } from "./useReadyCheck";
import { canFloat, toggleFloating } from "./floating";
import { MOST_CAMERAS, tab } from "./tab";
import { whoIsHere } from "./who";
import { useWishes } from "./wishes";
import { WhileRecording } from "./WhileRecording";
import { useMeter, useSoundAlarm } from "./useMeter";
import type { TakenBefore } from "#server/recordings/library";

const NO_REHEARSAL: Rehearsals = { rehearsed: null, before: null };
const STACKED = { display: "grid", gap: 2, minWidth: 0 } as const;
/** While it runs, an alarm is over the page: nothing moves under a hand that draws, or that is about to press Stop. */
const OVER = {
  ...STACKED,
  position: "fixed",
  // Over the page, and under what is opened from it.
  zIndex: "drawer",
  bottom: 12,
  // Under the picture, not over what steers.
  left: { xs: 12, md: "max(24px, calc(50vw - 556px))" },
  right: { xs: 12, md: "auto" },
  width: { md: "min(748px, calc(100vw - 412px))" },
  "& > *": { boxShadow: 3 },
} as const;
/** The prompts stand beside the picture: both are in view. */
const BESIDE = {
  display: "grid",
  gap: 2,
  gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" },
  alignItems: "start",
} as const;

interface Props {
  recorder: Recorder;
  state: RecorderState;
  setUps: SetUp[];
  room: Room;
  /** the recording that gets another take; null for a new one */
  before: TakenBefore | null;
  /** the server can be told what is kept there */
  connected?: boolean;
  /** a link may be for anyone from the first second; without a connection the server decides later */
  sharesOutside?: boolean;
}

/** The place where one records: get ready, record, go on. */
export function Desk(props: Props) {
  const { recorder, state, setUps, room, before, connected = true, sharesOutside = true } = props;
  const { phase } = state;
  const idle = phase === "ready" || phase === "asking";
  const running = phase === "recording" || phase === "paused";
  const back = useGoingBack(phase);
  // On a narrow screen: what comes next is pressed, and not looked at.
  const steers = idle || phase === "saved";
  const first = useFirstSetUp(setUps);
  const [usedName, setUsedName] = useState(first?.name ?? "");
  const setUp = setUps.find((s) => s.name.toLowerCase() === usedName.trim().toLowerCase()) ?? null;
  const [wanted, wish] = useWishes(running ? null : (first?.wishes ?? null));
  // Another take has the source of the first, unless another one is chosen for it alone.
  const [other, setOther] = useState<TakeSource | null>(null);
  const source = (running && recorder.source) || (before && (other ?? before.source)) || wanted.source;
  const workspace = whoIsHere()?.workspaceId ?? null;
  // What is remembered may be of another workspace.
  const folder = wanted.folder?.workspace === workspace ? wanted.folder : null;
  const isOpen = { owner: true, folder: folder !== null, workspace: true, anyone: sharesOutside }[wanted.audience];
  const audience = isOpen ? wanted.audience : "owner";
  const wishes = useMemo(() => ({ ...wanted, source, audience, folder }), [wanted, source, audience, folder]);
  const about = useAbout(running ? state.take : null);
  const [prompts, changePrompts] = usePrompts();
  const [clock, setClock] = useState("");
  const [ask, setAsk] = useState(noAsk);
  const lack = useInBrowser() ? lacks(wishes.source) : null;
  const usesCamera = showsCamera(wishes.source);
  const usesMicrophone = wishes.source === "voice" || wishes.withMicrophone;
  const { devices, camera, lens, microphone } = useDevices(recorder, {
    lens: wishes.lens,
    camera: usesCamera && !lack,
    microphone: usesMicrophone && !lack,
    picture: {
      ...cameraSize(wishes.quality, wishes.source === "camera"),
      rate: rateOf("camera", wishes.quality),
    },
  });
  const draws = useDraws(recorder) && wishes.source === "camera";
  const gain = useGain(microphone.track ? microphone.chosen : null);
  const meter = useMeter(microphone.track, gain.factor);
  const [rehearsals, setRehearsals] = useState<Rehearsals>(NO_REHEARSAL);
  const rehearsal = useRehearsal(rehearsals);
  const alarm = useSoundAlarm(meter, recorder);
  const kinds = useMemo(() => kindsOf(wishes.source, usesMicrophone), [wishes.source, usesMicrophone]);
  const free = useFreeSpace(idle || running);
  const { sending } = useOutbox();
  const [checks, setChecks] = useState(false);
  const checked = useReadyCheck({
    wanted: idle,
    meter,
    camera: usesCamera ? camera.track : null,
    kinds,
    free,
    quality: wishes.quality,
    opened: checks,
  });
  const produced = useProduced(state.made, wishes.source, kinds);
  const area = useArea(recorder, state.shared, phase === "ready");
  const doubt = doubtOf({
    voice: usesMicrophone && (!microphone.track || alarm === "dead"),
    picture: wishes.source === "screen-camera" && !camera.track,
    sole: wishes.source === "voice",
  });
  const usesScreen = showsScreen(wishes.source);
  useEffect(() => {
    if (!usesScreen) recorder.release();
  }, [recorder, usesScreen]);
  useEffect(() => {
    if (idle) void recorder.tune(wishes.quality);
  }, [recorder, idle, wishes.quality]);
  // Another device that is chosen in the middle of a take goes on where the one before was.
  useEffect(() => {
    if (!microphone.track) return;
    recorder.turn("microphone", gain.factor);
    recorder.replace("microphone", microphone.track);
  }, [recorder, microphone.track, gain.factor]);
  useEffect(() => recorder.turn("sound", wishes.soundLevel / 100), [recorder, wishes.soundLevel]);
  useEffect(() => {
    if (camera.track) recorder.replace("camera", camera.track);
  }, [recorder, camera.track]);
  // A page that comes back to a take finds it as it is; a scene that is chosen in a take is of that take alone.
  useEffect(() => {
    const { scene, ...place } = wishes.arrangement;
    recorder.arrange(recorder.isRunning ? place : { scene, ...place });
  }, [recorder, wishes.arrangement]);
  const arrange = ({ scene, ...place }: Partial<Arrangement>) => {
    if (scene && running) recorder.arrange({ scene });
    else wish({ arrangement: { ...state.arrangement, ...place, scene: scene ?? wishes.arrangement.scene } });
  };
  useAlarmSound(wishes.alarms && phase === "recording" && !state.muted.includes("microphone") ? alarm : null);
  useEffect(() => tab.tell({ cues: wishes.cues }), [wishes.cues]);
  // For whatever steers the take, in the floating window too.
  const chooseCamera = useRef(camera.choose);
  chooseCamera.current = camera.choose;
  const several = usesCamera && devices.cameras.length > 1;
  useEffect(() => {
    if (!several) return;
    const list = devices.cameras.slice(0, MOST_CAMERAS).map((d) => ({ id: d.deviceId, name: d.label }));
    tab.tell({ cameras: { list, chosen: camera.chosen, choose: (id) => chooseCamera.current(id) } });
    return () => tab.tell({ cameras: null });
  }, [several, devices.cameras, camera.chosen]);
  // What was only being prepared ends with the page; a take goes on.
  useEffect(() => () => recorder.leave(), [recorder]);
  useEffect(() => recorder.again(), [recorder]);

  const needs = wishes.source === "voice" ? microphone.track : wishes.source === "camera" ? camera.track : true;
  const choice = (): Choice => {
    const startAt = nextAt(clock, new Date());
    return {
      source: wishes.source,
      audience: wishes.audience,
      folder: wishes.folder?.id ?? null,
      takeOf: before?.id ?? null,
      ...about.about,
      title:
        tidyTitle(about.about.title) ||
        tidyTitle(prompts.points[0]?.text ?? "") ||
        proposeTitle(wishes.source, localMoment(startAt ?? new Date())),
      ask,
      countIn: Number(wishes.countIn),
      startAt: startAt?.getTime() ?? null,
      limit: limitOf(wishes.stopAfter, room),
      camera: usesCamera ? camera.track : null,
      microphone: usesMicrophone ? microphone.track : null,
      gains: { microphone: gain.factor, sound: wishes.soundLevel / 100 },
      suppresses: wishes.suppresses && usesMicrophone,
      person: whoIsHere(),
      stays: wishes.stays,
    };
  };
  const record = () => {
    setRehearsals(NO_REHEARSAL);
    // They are those of the take, also for a page that comes back to it.
    wish({ source: wishes.source });
    about.begun(about.about);
    // It needs the press that choosing a surface would use up: whoever chooses and records at once opens it by hand.
    if (wishes.floats && canFloat() && !tab.snapshot().floating && (!usesScreen || state.shared)) void toggleFloating();
    void recorder.record(choice());
  };
  const startOver = () => {
    const { title, ...rest } = about.about;
    void recorder.startOver({ ...rest, ...(tidyTitle(title) && { title: tidyTitle(title) }) });
  };
  const rehearse = async () => {
    const before = rehearsals.rehearsed;
    setRehearsals(NO_REHEARSAL);
    setRehearsals({ rehearsed: await recorder.rehearse(choice()), before });
  };
  const [asked, setAsked] = useState(false);
  const disabled = Boolean(lack) || !needs || askProblem(ask) !== null;
  const { arrangement } = state;
  const { scene } = arrangement;
  const desk = useDeskKeys({
    ...(phase === "ready" &&
      !disabled && {
        record: () => {
          if (usesScreen && !state.shared && !wishes.atOnce) return void recorder.choose();
          return doubt ? setAsked(true) : record();
        },
      }),
    ...takeDeeds(recorder, state),
    ...windowDeeds(),
    ...(running ? {} : cameraDeeds()),
    ...(wishes.source === "screen-camera" && arrangeDeeds(arrangement, arrange)),
  });
  return (
    <Box
      sx={{
        maxWidth: 1160,
        mx: "auto",
        px: { xs: 1.5, sm: 3 },
        py: { xs: 2, md: 1.5 },
        // What an alarm stands over can be scrolled out from under it.
        ...(running && { pb: { xs: 14, md: 14 } }),
        display: "grid",
        gap: { xs: 2, md: 1.5 },
      }}
    >
      <Typography variant="h1" sx={{ position: "absolute", left: -9999 }}>
        Record
      </Typography>
      <StateBand recorder={recorder} state={state} />
      {before && idle && (
        <Alert severity="info">
          Another take of “{before.title}”. Viewers see it after what is there, behind the same link.
        </Alert>
      )}
      <Box sx={{ ...(running ? OVER : STACKED), "&:empty": { display: "none" } }}>
        <Alerts
          state={state}
          lack={lack}
          alarm={usesMicrophone ? alarm : null}
          waiting={sending.reduce((sum, { state: { bytes } }) => sum + bytes, 0)}
          minutesLeft={free === null ? null : free / produced.minuteOf(wishes.quality)}
        />
      </Box>
      <Box
        sx={{
          display: "grid",
          gap: 3,
          gridTemplateColumns: { xs: "1fr", md: "minmax(0,1fr) 340px" },
          alignItems: "start",
        }}
      >
        <Box
          sx={{
            display: "grid",
            gap: 2,
            minWidth: 0,
            order: { xs: steers ? 2 : 1, md: 1 },
            // What is changed beside it is seen at once, however far down that is.
            position: { md: idle ? "sticky" : "static" },
            top: 8,
          }}
        >
          <Box sx={running && hasPrompts(prompts) ? BESIDE : STACKED}>
            <Box sx={STACKED}>
              {idle && rehearsal && !area.draft ? (
                <RehearsalPane
                  view={rehearsal}
                  arrangement={state.arrangement}
                  decibels={gain.decibels}
                  onTurn={gain.turn}
                  onAgain={() => void rehearse()}
                  onDone={() => setRehearsals(NO_REHEARSAL)}
                />
              ) : (
                <Stage
                  source={wishes.source}
                  arrangement={state.arrangement}
                  shared={state.shared}
                  guides={idle}
                  area={area.draft}
                  camera={camera.track}
                  meter={meter}
                  mirrored={wishes.mirrored !== wishes.lens.flips && !(running && draws)}
                  pad={running ? (frame) => <DrawPad recorder={recorder} frame={frame} /> : null}
                  onDrop={(place) => arrange({ place })}
                />
              )}
              {running && (state.shared || wishes.source === "camera") && <DrawBar recorder={recorder} />}
              {idle && !area.draft && !rehearsal && (
                <ReadyCheck
                  lines={checked}
                  onOpen={setChecks}
                  onRehearse={
                    needs && (state.shared || camera.track || microphone.track) ? () => void rehearse() : null
                  }
                />
              )}
              {!area.draft &&
                !(idle && rehearsal) &&
                wishes.source === "screen-camera" &&
                phase !== "saving" &&
                phase !== "saved" && <Arrange arrangement={arrangement} onArrange={arrange} />}
            </Box>
            {running && (
              <PromptsPane
                prompts={prompts}
                recorder={recorder}
                shared={state.shared}
                running={phase === "recording"}
              />
            )}
          </Box>
          {running && scene === "screen" && wishes.source === "screen-camera" && (
            <Typography variant="body2">
              Your picture is hidden from viewers from this moment. The camera keeps running, so that you can show it
              again.
            </Typography>
          )}
        </Box>
        <Box sx={{ display: "grid", gap: 2, minWidth: 0, order: { xs: steers ? 1 : 2, md: 2 } }}>
          {back ? (
            <WhereFrom recorder={recorder} onLeave={leaveBack} />
          ) : (
            <Controls
              recorder={recorder}
              state={state}
              onRecord={record}
              onStartOver={startOver}
              onArea={area.open}
              choosingArea={area.draft !== null}
              shown={!usesScreen ? "unneeded" : state.shared ? "chosen" : "unchosen"}
              atOnce={wishes.atOnce}
              clock={clock}
              doubt={doubt}
              asked={asked}
              onAsked={setAsked}
              disabled={disabled}
            />
          )}
          {((running && !back) || phase === "rehearsing") && meter && <LevelBar meter={meter} />}
          {running && !back && (
            <WhileRecording
              recorder={recorder}
              shared={state.shared}
              lost={state.lost}
              muted={state.muted}
              soundLevel={wishes.soundLevel}
              onSoundLevel={(soundLevel) => wish({ soundLevel })}
              microphone={usesMicrophone ? { device: microphone, list: devices.microphones } : null}
              camera={usesCamera ? { device: camera, list: devices.cameras } : null}
            />
          )}
          {running && !back && <AboutFold draft={about} without={state.take?.title ?? ""} />}
          {area.draft && <AreaPanel draft={area.draft} quality={wishes.quality} />}
          {idle && !area.draft && (
            <Setup
              {...produced}
              suppression={state.suppression}
              room={room}
              sharesOutside={sharesOutside}
              workspace={connected ? workspace : null}
              free={free}
              about={about}
              prompts={{ prompts, change: changePrompts }}
              isAnother={before !== null}
              setUp={{
                setUps,
                keeps: connected,
                used: setUp,
                onKept: setUsedName,
                onUse: (next) => {
                  setUsedName(next?.name ?? "");
                  if (next) wish(next.wishes);
                },
              }}
              wishes={wishes}
              camera={camera}
              lens={lens}
              microphone={microphone}
              meter={meter}
              gain={gain}
              withSound={state.shared?.withSound ?? false}
              ask={ask}
              onWish={(change) => (before && change.source ? setOther(change.source) : wish(change))}
              onAsk={setAsk}
              start={{ clock, onClock: setClock }}
              cameras={devices.cameras}
              microphones={devices.microphones}
            />
          )}
          <Button size="small" onClick={() => desk.list(true)} sx={{ justifySelf: "start", px: 0, minWidth: 0 }}>
            Keys
          </Button>
          <DeskKeysDialog open={desk.listed} keys={desk.keys} onKeys={desk.change} onClose={() => desk.list(false)} />
        </Box>
      </Box>
    </Box>
  );
}

/** The set-up that the address names, or the person's first. */
function useFirstSetUp(setUps: readonly SetUp[]): SetUp | null {
  const named = useSearchParams()[0].get("set-up");
  return setUps.find((s) => s.id === named) ?? setUps.find((s) => s.isFirst) ?? null;
}
