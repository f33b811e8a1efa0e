import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useRef, useState } from "react";
import { gainTowards } from "#core/audio/gain";
import { SPEECH } from "#core/check/verdicts";
import { alone, sceneOf } from "#core/layout/scene";
import type { Arrangement } from "#core/layout/layout";
import { OneOf } from "../components/OneOf";
import { LocalFrame, Sound } from "./LocalFrame";
import { REFERENCE, type RehearsalView, type Voice } from "./useRehearsal";

interface Props {
  view: RehearsalView;
  arrangement: Arrangement;
  /** what the microphone is turned up by, dB */
  decibels: number;
  onTurn: (decibels: number) => void;
  onAgain: () => void;
  onDone: () => void;
}

type Heard = "own" | "before" | "reference";
const HEARD: { value: Heard; name: string }[] = [
  { value: "own", name: "Your voice" },
  { value: "before", name: "The time before" },
  { value: "reference", name: "As loud as it should be" },
];
const FRAME = { width: 16, height: 9 };
/** Goes from one voice to the other and back. */
const SWITCH_KEY = "x";

/** Ten seconds as they would have been recorded, beside a voice that is as loud as it should be. */
export function RehearsalPane({ view, arrangement, decibels, onTurn, onAgain, onDone }: Props) {
  const { addresses, before, voice, reference } = view;
  const [heard, setHeard] = useState<Heard>("own");
  const [playing, setPlaying] = useState(true);
  const choices = useMemo(() => HEARD.filter(({ value }) => value !== "before" || before), [before]);
  const box = useRef<HTMLDivElement>(null);
  const other = useRef<HTMLAudioElement>(null);
  const scene = addresses.screen && addresses.camera ? sceneOf(FRAME, arrangement) : alone("screen");
  const more = voice ? gainTowards(voice, SPEECH.target) : 0;

  useEffect(() => {
    const own = [...box.current!.querySelectorAll<HTMLMediaElement>("video, audio")];
    if (playing) own.forEach((element) => void element.play().catch(() => undefined));
    else own.forEach((element) => element.pause());
    if (playing) void other.current!.play().catch(() => undefined);
    else other.current!.pause();
  }, [playing, addresses]);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (event.key.toLowerCase() !== SWITCH_KEY || typing || event.ctrlKey || event.metaKey || event.altKey) return;
      setHeard((now) => choices[(choices.findIndex(({ value }) => value === now) + 1) % choices.length]!.value);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [choices]);

  return (
    <Box component="section" aria-label="Rehearsal" sx={{ display: "grid", gap: 1.5 }}>
      <LocalFrame ref={box} addresses={addresses} scene={scene} label="Your rehearsal" muted={heard !== "own"} loop>
        {before && <Sound address={before} muted={heard !== "before"} loop />}
      </LocalFrame>
      <Sound address={REFERENCE} muted={heard !== "reference"} loop ref={other} />
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <Button variant="contained" onClick={() => setPlaying(!playing)}>
          {playing ? "Pause" : "Play"}
        </Button>
        <OneOf label="What you hear" value={heard} choices={choices} onChoose={setHeard} />
        <Typography variant="body2">
          <kbd>{SWITCH_KEY.toUpperCase()}</kbd> goes from one to the other
        </Typography>
      </Box>
      <Typography role="status">
        {voiceWords("Your voice", voice)} {voiceWords("The other", reference)}
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        {more !== 0 && (
          <Button variant="outlined" onClick={() => onTurn(decibels + more)}>
            Turn my microphone {more > 0 ? "up" : "down"} by {Math.abs(more)} dB
          </Button>
        )}
        <Button variant="outlined" onClick={onAgain}>
          Rehearse again
        </Button>
        <Button onClick={onDone}>Done</Button>
      </Box>
    </Box>
  );
}

function voiceWords(who: string, voice: Voice | null): string {
  if (!voice) return "";
  const said = (value: number) => value.toFixed(1).replace("-", "−");
  if (!Number.isFinite(voice.loudness)) return `${who}: nothing was heard.`;
  return `${who}: ${said(voice.loudness)} LUFS, peaks ${said(voice.peak)} dBTP.`;
}
