import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { canUseLens, type LensState } from "#capture/lens/lens-track";
import type { LevelMeter } from "#capture/level-meter";
import type { Wishes } from "#core/desk/wishes";
import type { Quality } from "#core/media/quality";
import { showsCamera, type TakeSource } from "#core/media/tracks";
import { AskFields, type AskDraft } from "../answers/AskEditor";
import { SelectField } from "../components/SelectField";
import { AboutFold } from "./AboutFold";
import type { AboutDraft } from "./useAbout";
import { SetUpFold, type SetUpChoice } from "./SetUpFold";
import type { Room } from "#server/desk/room";
import { SoundLevel } from "./SoundLevel";
import { VoiceFold } from "./VoiceFold";
import { FolderFold } from "./FolderFold";
import { ForMeFold } from "./ForMeFold";
import { LevelBar } from "./LevelBar";
import { PromptsFold, TidyFold, type PromptsDraft } from "./PromptsFold";
import { LensFold } from "./LensFold";
import { QualityFold } from "./QualityFold";
import { TimingFold, type Start } from "./TimingFold";
import type { OpenDevice } from "./useDevices";

const SOURCES: { value: TakeSource; name: string }[] = [
  { value: "screen-camera", name: "Screen and camera" },
  { value: "screen", name: "Screen" },
  { value: "camera", name: "Camera" },
  { value: "voice", name: "Voice" },
];

const AUDIENCE_NAMES: Record<Wishes["audience"], string> = {
  owner: "Only me, until I share it",
  folder: "The folder's people, from the first second",
  workspace: "Everybody of the workspace, from the first second",
  anyone: "Anyone with the link, from the first second",
};
/** Those that can be chosen, in their order. */
function audienceNames(inFolder: boolean, sharesOutside: boolean): Partial<typeof AUDIENCE_NAMES> {
  const { owner, folder, workspace, anyone } = AUDIENCE_NAMES;
  return { owner, ...(inFolder && { folder }), workspace, ...(sharesOutside && { anyone }) };
}

interface Props {
  wishes: Wishes;
  onWish: (change: Partial<Wishes>) => void;
  camera: OpenDevice;
  lens: LensState;
  microphone: OpenDevice;
  meter: LevelMeter | null;
  /** what is shown has a sound */
  withSound: boolean;
  gain: { decibels: number; turn: (decibels: number) => void };
  cameras: MediaDeviceInfo[];
  microphones: MediaDeviceInfo[];
  ask: AskDraft;
  onAsk: (ask: AskDraft) => void;
  start: Start;
  about: AboutDraft;
  /** it is another take of a recording: what is said of that stands already */
  isAnother: boolean;
  prompts: PromptsDraft;
  setUp: SetUpChoice;
  room: Room;
  free: number | null;
  minuteOf: (quality: Quality) => number;
  isLearnt: boolean;
  sharesOutside: boolean;
  /** in which it is recorded; null where the server cannot be asked */
  workspace: string | null;
  /** the share of one processor that taking out noise took */
  suppression: number | null;
}

/** Everything that is chosen before recording. */
export function Setup({
  wishes,
  onWish,
  camera,
  lens,
  microphone,
  meter,
  withSound,
  gain,
  cameras,
  microphones,
  ask,
  onAsk,
  start,
  about,
  isAnother,
  prompts,
  setUp,
  suppression,
  sharesOutside,
  workspace,
  ...takes
}: Props) {
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Box>
        <Typography variant="h3" component="h2" id="what" sx={{ mb: 1 }}>
          What to record
        </Typography>
        <ToggleButtonGroup
          exclusive
          fullWidth
          color="primary"
          aria-labelledby="what"
          value={wishes.source}
          onChange={(_, source: TakeSource | null) => source && onWish({ source })}
          sx={{
            display: "grid",
            gridTemplateColumns: "1fr 1fr",
            "& .MuiToggleButton-root": {
              border: "1px solid",
              borderColor: "var(--mui-palette-mist) !important",
              m: "0 !important",
              py: 1,
            },
          }}
        >
          {SOURCES.map(({ value, name }) => (
            <ToggleButton key={value} value={value}>
              {name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Device name="Microphone" device={microphone} list={microphones} wanted={wishes.withMicrophone} />
      {meter && <LevelBar meter={meter} />}
      {wishes.withMicrophone && gain.decibels !== 0 && (
        <Typography variant="body2">
          Turned {gain.decibels > 0 ? "up" : "down"} by {Math.abs(gain.decibels)} dB.{" "}
          <Button size="small" onClick={() => gain.turn(0)} sx={{ minHeight: 24, py: 0 }}>
            As it comes
          </Button>
        </Typography>
      )}
      {withSound && <SoundLevel level={wishes.soundLevel} onLevel={(soundLevel) => onWish({ soundLevel })} />}
      {wishes.source !== "voice" && (
        <FormControlLabel
          control={
            <Switch checked={wishes.withMicrophone} onChange={(_, withMicrophone) => onWish({ withMicrophone })} />
          }
          label="Record my voice"
        />
      )}
      {showsCamera(wishes.source) && <Device name="Camera" device={camera} list={cameras} wanted />}
      {!isAnother && (
        <>
          <SelectField
            label="Who can open the link"
            value={wishes.audience}
            names={audienceNames(wishes.folder !== null, sharesOutside)}
            onChoose={(audience) => onWish({ audience })}
          />
          <AskFields ask={ask} onChange={onAsk} />
        </>
      )}
      <Box>
        {!isAnother && (
          <AboutFold
            draft={about}
            without={prompts.prompts.points.length > 0 ? "titled by its first point" : "titled by date and time"}
          />
        )}
        {!isAnother && workspace && (
          <FolderFold
            folder={wishes.folder}
            workspace={workspace}
            onFolder={(folder) =>
              onWish({ folder, ...(!folder && wishes.audience === "folder" && { audience: "owner" }) })
            }
          />
        )}
        {wishes.source !== "voice" && (
          <QualityFold quality={wishes.quality} onQuality={(quality) => onWish({ quality })} {...takes} />
        )}
        {showsCamera(wishes.source) && canUseLens() && (
          <LensFold lens={wishes.lens} onLens={(lens) => onWish({ lens })} state={lens} />
        )}
        {wishes.withMicrophone && (
          <VoiceFold
            suppresses={wishes.suppresses}
            onSuppresses={(suppresses) => onWish({ suppresses })}
            cost={suppression}
          />
        )}
        <PromptsFold {...prompts} />
        <TidyFold {...prompts} />
        <TimingFold wishes={wishes} onWish={onWish} {...start} />
        <ForMeFold wishes={wishes} onWish={onWish} />
        <SetUpFold wishes={wishes} {...setUp} />
      </Box>
    </Box>
  );
}

/** A device by its name, and what is wrong with it. */
export function Device({
  name,
  device,
  list,
  wanted,
}: {
  name: string;
  device: OpenDevice;
  list: MediaDeviceInfo[];
  wanted: boolean;
}) {
  if (!wanted) return null;
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      {list.length > 0 && (
        <SelectField
          label={name}
          value={list.some((d) => d.deviceId === device.chosen) ? (device.chosen ?? "") : ""}
          names={Object.fromEntries(list.map((d, i) => [d.deviceId, d.label || `${name} ${i + 1}`]))}
          onChoose={device.choose}
        />
      )}
      {device.problem && (
        <Alert severity="error" action={<TryAgain onPress={device.retry} />}>
          {device.problem.message}
        </Alert>
      )}
      {device.missed && (
        <Alert severity="warning" action={<TryAgain onPress={device.retry} />}>
          {device.missed} is not here. {device.track?.label || `Another ${name.toLowerCase()}`} is used instead.
        </Alert>
      )}
      {!device.problem && !device.track && (
        <Typography variant="body2">Waiting for the {name.toLowerCase()}. The browser may be asking you.</Typography>
      )}
    </Box>
  );
}

const TryAgain = ({ onPress }: { onPress: () => void }) => (
  <Button color="inherit" size="small" onClick={onPress} sx={{ whiteSpace: "nowrap" }}>
    Try again
  </Button>
);
