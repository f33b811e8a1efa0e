import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import type { Suppressing } from "#core/audio/suppressing";
import { GAIN, gainTowards } from "#core/audio/gain";
import { MUSIC_LEVEL, MUSIC_UNDER, USUAL_MUSIC, type Music, type Tune } from "#core/audio/music";
import { FADE, GAINED, MUTED, type Dress, type Gained, type Louder, type Put } from "#core/recipe/dress";
import { SUPPRESSED } from "#core/media/tracks";
import { holdingAt } from "#core/recipe/as-shown";
import { inOrder, painted } from "#core/recipe/over";
import { SECOND } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Look, Measured } from "#server/editing/look";
import { OneOf } from "../components/OneOf";
import { Folded } from "../components/Folded";
import { useLetGo } from "./useLetGo";

interface Props {
  /** of the takes that were looked over */
  looks: readonly Look[];
  dress: Dress;
  /** where the voice without its noise stands; null where it is not wanted */
  suppression: Suppressing | null;
  /** the stretches of takes that are chosen, and how they are called; none where nothing is chosen */
  chosen: { sources: readonly Range[]; words: string } | null;
  onPut: (puts: Put[]) => void;
}

/** What voices are brought to: common practice for speech that is heard at a computer (no published source). LUFS */
const TARGET = -16;
const NAMES: Record<Gained, string> = { microphone: "Your voice", sound: "The computer's sound" };
const signed = (decibels: number) => `${decibels > 0 ? "+" : ""}${decibels} dB`;

/** How loud each sound is, and how loud it is to be. It is data: nothing is encoded anew, and it can be taken back. */
export function SoundFold({ looks, dress, suppression, chosen, onPut }: Props) {
  const { gains = {} }: { gains?: Louder } = dress;
  const onGain = (track: Gained, decibels: number) => onPut([{ facet: "gains", id: track, value: decibels }]);
  const tracks = GAINED.flatMap((track) => {
    const heard = track === "microphone" && suppression === "made" ? SUPPRESSED : track;
    const measured = looks.flatMap((look) => look.measured[heard] ?? look.measured[track] ?? []);
    return measured.length > 0 ? [{ track, all: together(measured) }] : [];
  });
  if (tracks.length === 0) return null;
  const loud = tracks.map(({ track }) => (gains[track] ? signed(gains[track]) : "as recorded"));
  const value = [...loud, ...(suppression ? ["noise taken out"] : []), ...(dress.music ? ["with music"] : [])].join(
    ", ",
  );
  return (
    <Folded later title="Sound" value={value}>
      {tracks.map(({ track, all }) => (
        <OneSound key={track} track={track} all={all} gain={gains[track] ?? 0} onGain={onGain}>
          {track === "microphone" && <NoiseRow suppression={suppression} onPut={onPut} />}
        </OneSound>
      ))}
      <StretchSound tracks={tracks.map(({ track }) => track)} louder={dress.louder} chosen={chosen} onPut={onPut} />
      <Fades fades={dress.fades} onPut={onPut} />
      <MusicRows music={dress.music?.bed} onPut={onPut} />
    </Folded>
  );
}

interface OneProps {
  track: Gained;
  all: { loudness: number; peak: number };
  gain: number;
  onGain: (track: Gained, decibels: number) => void;
  children: ReactNode;
}

function OneSound({ track, all, gain, onGain, children }: OneProps) {
  const { shown, slider } = useLetGo(gain, (decibels) => onGain(track, decibels));
  const wanted = gainTowards(all, TARGET);
  const heard = Number.isFinite(all.loudness);
  const reached = Math.round(all.loudness + wanted);
  return (
    <Box role="group" aria-label={NAMES[track]} sx={{ display: "grid", gap: 0.5 }}>
      <Typography variant="body2">
        {NAMES[track]}:{" "}
        {heard
          ? `${(all.loudness + shown).toFixed(1)} LUFS, peaks ${(all.peak + shown).toFixed(1)} dBTP`
          : "nothing is heard"}
      </Typography>
      {heard && (
        <>
          <Slider
            data-own-keys
            size="small"
            aria-label={`${NAMES[track]}, louder or quieter`}
            min={GAIN.least}
            max={GAIN.most}
            step={0.5}
            getAriaValueText={signed}
            valueLabelDisplay="auto"
            valueLabelFormat={signed}
            {...slider}
            sx={{ mx: 1, width: "auto" }}
          />
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            {wanted !== 0 && (
              <Button size="small" variant="outlined" disabled={gain === wanted} onClick={() => onGain(track, wanted)}>
                Bring it to {reached} LUFS: {signed(wanted)}
              </Button>
            )}
            {gain !== 0 && (
              <Button size="small" onClick={() => onGain(track, 0)}>
                As recorded
              </Button>
            )}
          </Box>
          {reached < TARGET && (
            <Typography variant="body2" color="text.secondary">
              {TARGET} LUFS is usual for speech. So loud, its loudest moments would crackle.
            </Typography>
          )}
          {all.peak + shown > -1 && (
            <Typography variant="body2" role="status">
              Its peaks go beyond −1 dBTP: it may be heard as a crackle.
            </Typography>
          )}
          {children}
        </>
      )}
    </Box>
  );
}

const NOISE_WORDS = {
  wanted: "The noise is being taken out. Until then you hear the voice as it was recorded.",
  made: "You hear the voice without the noise around it.",
  failed: "The noise cannot be taken out of this voice. Publish it as it was recorded.",
};

/** Whether the noise around a voice is taken out. What was recorded stays: it can be had again at any time. */
function NoiseRow({ suppression, onPut }: Pick<Props, "suppression" | "onPut">) {
  const set = (on: boolean) => onPut([{ facet: "suppression", id: "microphone", value: on || null }]);
  return (
    <Box>
      <FormControlLabel
        control={<Switch size="small" checked={suppression !== null} onChange={(_, on) => set(on)} />}
        label="Take out the noise around it"
        slotProps={{ typography: { variant: "body2" } }}
        sx={{ ml: 0, gap: 1 }}
      />
      {suppression && (
        <Typography variant="body2" role="status" color={suppression === "failed" ? "error" : "text.secondary"}>
          {NOISE_WORDS[suppression]}
        </Typography>
      )}
    </Box>
  );
}

/** The loudest of all takes counts: one gain is for all of them. −∞ where nothing is heard. */
function together(measured: readonly Measured[]): { loudness: number; peak: number } {
  const most = (pick: (one: Measured) => number | null) =>
    measured.reduce((loudest, one) => Math.max(loudest, pick(one) ?? -Infinity), -Infinity);
  return { loudness: most((one) => one.loudness), peak: most((one) => one.peak) };
}

interface StretchProps extends Pick<Props, "chosen" | "onPut"> {
  tracks: readonly Gained[];
  louder: Dress["louder"];
}

/** Louder, quieter, or nothing at all, for the stretch that is chosen. */
function StretchSound({ tracks, louder = {}, chosen, onPut }: StretchProps) {
  const [first] = chosen?.sources ?? [];
  const now = first ? (holdingAt(inOrder(louder), first.from)?.by ?? {}) : {};
  const set = (track: Gained, decibels: number) => {
    const by = Object.fromEntries(Object.entries({ ...now, [track]: decibels }).filter(([, d]) => d !== 0));
    const value = Object.keys(by).length > 0 ? { by } : null;
    onPut(
      (chosen?.sources ?? []).flatMap((stretch) =>
        painted(louder, stretch, value).map((put) => ({ facet: "louder" as const, ...put })),
      ),
    );
  };
  if (!chosen)
    return <Typography variant="body2">Choose a stretch on the line to make it louder, quieter or silent.</Typography>;
  return (
    <Box role="group" aria-label="Sound of the stretch" sx={{ display: "grid", gap: 0.5 }}>
      <Typography variant="body2">{chosen.words}</Typography>
      {tracks.map((track) => (
        <Box key={track} sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, alignItems: "center" }}>
          <Box component="span" sx={{ flex: 1, minWidth: 110 }}>
            {NAMES[track]}: {now[track] === undefined ? "as elsewhere" : named(now[track])}
          </Box>
          <Button size="small" onClick={() => set(track, Math.max(GAIN.least, audible(now[track]) - STEP))}>
            Quieter
          </Button>
          <Button size="small" onClick={() => set(track, Math.min(GAIN.most, audible(now[track]) + STEP))}>
            Louder
          </Button>
          <Button size="small" onClick={() => set(track, now[track] === MUTED ? 0 : MUTED)}>
            {now[track] === MUTED ? "As elsewhere" : "Silent"}
          </Button>
        </Box>
      ))}
    </Box>
  );
}

/** Of one press. dB */
const STEP = 3;
const audible = (decibels: number | undefined) => (decibels === undefined || decibels === MUTED ? 0 : decibels);
const named = (decibels: number) => (decibels === MUTED ? "silent" : signed(decibels));

/** How slowly all sound comes at the beginning, and goes at the end. */
function Fades({ fades = {}, onPut }: { fades: Dress["fades"] } & Pick<Props, "onPut">) {
  return (
    <Box role="group" aria-label="Fades" sx={{ display: "grid", gap: 0.5 }}>
      {(["in", "out"] as const).map((which) => (
        <Amount
          key={which}
          label={which === "in" ? "Comes slowly" : "Goes slowly"}
          value={(fades[which] ?? 0) / SECOND}
          bounds={{ least: 0, most: FADE.most / SECOND }}
          words={(seconds) => (seconds === 0 ? "at once" : `over ${seconds} s`)}
          onSet={(seconds) => onPut([{ facet: "fades", id: which, value: Math.round(seconds * SECOND) }])}
        />
      ))}
    </Box>
  );
}

interface AmountProps {
  label: string;
  value: number;
  bounds: { least: number; most: number };
  words: (value: number) => string;
  onSet: (value: number) => void;
}

/** An amount, in words and as a slider. */
function Amount({ label, value, bounds, words, onSet }: AmountProps) {
  const { shown, slider } = useLetGo(value, onSet);
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "150px 1fr", alignItems: "center", gap: 1, width: 1 }}>
      <Typography variant="body2">
        {label}: {words(shown)}
      </Typography>
      <Slider
        data-own-keys
        size="small"
        aria-label={label}
        min={bounds.least}
        max={bounds.most}
        step={0.5}
        getAriaValueText={words}
        {...slider}
        sx={{ mx: 1, width: "auto" }}
      />
    </Box>
  );
}

const TUNE_CHOICES: { value: Tune | "none"; name: string }[] = [
  { value: "none", name: "None" },
  { value: "panes", name: "Panes" },
  { value: "dew", name: "Dew" },
];

/** A tune under all of it, which goes lower where somebody speaks. */
function MusicRows({ music, onPut }: { music: Music | undefined } & Pick<Props, "onPut">) {
  const set = (value: Music | null) => onPut([{ facet: "music", id: "bed", value }]);
  return (
    <Box role="group" aria-label="Music" sx={{ display: "grid", gap: 0.5, justifyItems: "start" }}>
      <Typography variant="body2">Music under it</Typography>
      <OneOf
        label="Tune"
        value={music?.tune ?? "none"}
        choices={TUNE_CHOICES}
        onChoose={(tune) => set(tune === "none" ? null : { ...USUAL_MUSIC, ...music, tune })}
      />
      {music && (
        <>
          <Amount
            label="How loud"
            value={music.decibels}
            bounds={MUSIC_LEVEL}
            words={signed}
            onSet={(decibels) => set({ ...music, decibels })}
          />
          <Amount
            label="Lower under speech"
            value={music.under}
            bounds={MUSIC_UNDER}
            words={signed}
            onSet={(under) => set({ ...music, under })}
          />
        </>
      )}
    </Box>
  );
}
