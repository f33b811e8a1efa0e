import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useEffect, useRef, useState } from "react";
import type { Recorder } from "#capture/recorder";
import type { Shared } from "#capture/recorder-state";
import { plannedSeconds, type Prompts, type ScriptSize } from "#core/desk/prompts";
import { SECOND } from "#core/time/micros";

interface Props {
  prompts: Prompts;
  recorder: Recorder;
  shared: Shared | null;
  /** it runs: the script moves with it */
  running: boolean;
}

export const hasPrompts = ({ points, script }: Prompts): boolean => points.length > 0 || script !== "";

/** The prompts while recording: points to tick, and the script, which moves as it is to be said. */
export function PromptsPane({ prompts, recorder, shared, running }: Props) {
  const { points, script } = prompts;
  if (!hasPrompts(prompts)) return null;
  const seen = seenWords(shared);
  return (
    <Box component="section" aria-label="Prompts" sx={{ display: "grid", gap: 1 }}>
      {seen && <Alert severity="warning">{seen}</Alert>}
      {points.length > 0 && <Points prompts={prompts} recorder={recorder} />}
      {script && <Script prompts={prompts} recorder={recorder} running={running} />}
    </Box>
  );
}

/** Will viewers see the prompts as well? */
function seenWords(shared: Shared | null): string | null {
  if (!shared || shared.surface === "browser") return null;
  if (shared.surface === "monitor")
    return "You show the whole screen: everybody will see these prompts while this page is on it.";
  return "If the window that you show is this one, everybody will see these prompts.";
}

function Points({ prompts: { points }, recorder }: Pick<Props, "prompts" | "recorder">) {
  /** the note of each point that was ticked */
  const [notes, setNotes] = useState<Record<string, string>>(() => {
    const { notes: written } = recorder.entries.snapshot();
    const noteOf = (text: string) => written.find(({ body }) => body.what === "point" && body.text === text);
    return Object.fromEntries(
      points.flatMap(({ id, text }) => {
        const note = noteOf(text);
        return note ? [[id, note.id]] : [];
      }),
    );
  });
  const tick = (id: string, text: string) => {
    const { [id]: note, ...others } = notes;
    if (note) {
      recorder.entries.takeBack(note);
      return setNotes(others);
    }
    const made = recorder.entries.note({ what: "point", text });
    if (made) setNotes({ ...notes, [id]: made });
  };
  return (
    <Box role="group" aria-label="Talking points" sx={{ display: "grid" }}>
      {points.map(({ id, text }) => (
        <FormControlLabel
          key={id}
          control={<Checkbox size="small" checked={id in notes} onChange={() => tick(id, text)} />}
          label={text}
          sx={{ color: id in notes ? "text.secondary" : "text.primary", mr: 0 }}
        />
      ))}
    </Box>
  );
}

const FONT: Record<ScriptSize, string> = { small: "1rem", medium: "1.35rem", large: "1.9rem" };

function Script({ prompts, recorder, running }: Pick<Props, "prompts" | "recorder" | "running">) {
  const box = useRef<HTMLDivElement>(null);
  const [moving, setMoving] = useState(true);
  const whole = plannedSeconds(prompts) * SECOND;
  useEffect(() => {
    if (!moving || !running) return;
    // By the recorder's own time: a pause stops it, and it comes back where it was.
    const timer = setInterval(() => {
      const { scrollHeight, clientHeight } = box.current!;
      box.current!.scrollTop = (scrollHeight - clientHeight) * Math.min(1, recorder.elapsed() / whole);
    }, 100);
    return () => clearInterval(timer);
  }, [moving, running, recorder, whole]);
  return (
    <Box>
      <Box
        ref={box}
        tabIndex={0}
        role="region"
        aria-label="Script"
        sx={{
          maxHeight: 132,
          overflowY: "auto",
          p: 1.5,
          border: "1px solid",
          borderColor: "mist",
          bgcolor: "background.paper",
          fontSize: FONT[prompts.size],
          lineHeight: 1.4,
          whiteSpace: "pre-line",
          overflowWrap: "anywhere",
        }}
      >
        {prompts.script}
      </Box>
      <Button size="small" onClick={() => setMoving(!moving)}>
        {moving ? "Stop moving it" : "Move it as I speak"}
      </Button>
    </Box>
  );
}
