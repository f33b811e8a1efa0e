import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Recalled } from "#capture/engine/messages";
import type { Recorder } from "#capture/recorder";
import { pausesHeard } from "#capture/speech/pauses";
import { pausesIn } from "#core/audio/pauses";
import type { Remembered } from "#core/audio/voice-memory";
import { recipeOf } from "#core/recipe/edits";
import { nearestPlace, placesIn } from "#core/recipe/proposals";
import { ShownLine } from "#core/recipe/shown-line";
import { formatClock, MILLISECOND, SECOND, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import { Glimpsed } from "./Glimpsed";
import { hear } from "./hear";
import { VoiceLine } from "./VoiceLine";

/** A place that is as near as this to where the handle is let go is meant. */
const NEAR: Micros = 400 * MILLISECOND;
/** Whoever goes back has said something since: the pause that they are in is not the place. */
const SAID: Micros = 1.5 * SECOND;
/** Where no pause is known. */
const UNKNOWN: Micros = 5 * SECOND;
/** How much is heard before the place. */
const HEARD: Micros = 3 * SECOND;

interface Props {
  recorder: Recorder;
  onLeave: () => void;
}

/** While paused: looks for the moment to go on from, by what was seen and said. Only the presenter sees it. */
export function WhereFrom({ recorder, onLeave }: Props) {
  const [recalled, setRecalled] = useState<Recalled | null>(null);
  useEffect(() => {
    let left = false;
    recorder.recall().then(
      (found) => !left && setRecalled(found),
      // The take ends with what it is recorded by, and says so itself.
      () => !left && onLeave(),
    );
    return () => {
      left = true;
    };
  }, [recorder, onLeave]);
  return recalled ? (
    <Found recorder={recorder} recalled={recalled} onLeave={onLeave} />
  ) : (
    <Typography role="status">Looking back</Typography>
  );
}

/** The pauses of a voice: by how loud it is at once, and by a model as soon as that has listened. */
function usePauses(voice: Remembered | null): readonly Range[] {
  const [heard, setHeard] = useState<readonly Range[] | null>(null);
  useEffect(() => {
    if (!voice) return;
    const leaving = new AbortController();
    void pausesHeard(voice, leaving.signal).then((pauses) => pauses && setHeard(pauses));
    return () => leaving.abort();
  }, [voice]);
  const loud = useMemo(() => (voice ? pausesIn(voice.levels, voice.from) : []), [voice]);
  // The model has heard the last minute only.
  return useMemo(
    () => (heard?.[0] ? [...loud.filter((pause) => pause.to < heard[0]!.from), ...heard] : loud),
    [heard, loud],
  );
}

function Found({ recorder, recalled: { voice, glimpses }, onLeave }: Props & { recalled: Recalled }) {
  // What is shown of the take so far: what was gone back over before is not there any more.
  const line = useMemo(() => new ShownLine(recipeOf(recorder.entries.kept()), 0), [recorder]);
  const pauses = usePauses(voice);
  const places = useMemo(
    () =>
      placesIn(pauses).flatMap((place) => {
        const { shown, kept } = line.toShown(place);
        return kept ? [shown] : [];
      }),
    [pauses, line],
  );
  const end = line.length;
  const oldest = line.toShown(Math.min(voice?.from ?? Infinity, glimpses[0]?.at ?? Infinity, line.toSource(end))).shown;
  const before = (at: Micros) => places.findLast((place) => place < at);
  // It does not move under a hand when the model has listened, unless nothing was known before.
  const [put, setAt] = useState<Micros | null>(() => before(end - SAID) ?? null);
  const at = put ?? before(end - SAID) ?? Math.max(oldest, end - UNKNOWN);
  const source = line.toSource(at);
  const stop = useRef<() => void>(() => undefined);
  useEffect(() => () => stop.current(), []);
  const go = (to: Micros) => {
    stop.current();
    setAt(Math.max(oldest, Math.min(end, to)));
  };
  const listen = () => {
    stop.current();
    stop.current = hear(voice!, { from: source - HEARD, to: source });
  };
  const left = end - at;
  return (
    <Box
      component="section"
      aria-label="Where to go on from"
      sx={{ display: "grid", gap: 1, p: 1.5, border: "1px solid", borderColor: "text.secondary" }}
    >
      <Typography component="p" sx={{ fontWeight: 600 }}>
        Go on from <span className="clock">{formatClock(at)}</span>
      </Typography>
      {glimpses.length > 0 && <Glimpsed glimpses={glimpses} at={source} />}
      <Box sx={{ px: 1 }}>
        {voice && <VoiceLine voice={voice} line={line} from={oldest} to={end} at={at} />}
        <Slider
          size="small"
          aria-label="Where to go on from"
          min={oldest}
          max={end}
          step={100 * MILLISECOND}
          value={at}
          getAriaValueText={spokenLength}
          slotProps={{ input: { autoFocus: true } }}
          // By the hand a pause is meant, by keys each tenth of a second can be.
          onChange={(event, to) => go(event.type === "keydown" ? to : nearestPlace(to, places, NEAR))}
        />
      </Box>
      <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: "1fr 1fr" }}>
        <Button disabled={at <= oldest} onClick={() => go(before(at) ?? oldest)}>
          Pause before
        </Button>
        <Button disabled={at >= end} onClick={() => go(places.find((place) => place > at) ?? end)}>
          Pause after
        </Button>
      </Box>
      {voice && (
        <Button variant="outlined" onClick={listen}>
          Hear what comes before
        </Button>
      )}
      <Typography variant="body2">
        {left < SECOND / 10
          ? "Nothing is left out."
          : `The last ${spokenLength(SECOND * Math.ceil(left / SECOND))} will not be shown. Nothing is deleted.`}
      </Typography>
      <Button variant="contained" color="clay" onClick={() => recorder.goOnFrom(source)}>
        Go on from here
      </Button>
      <Button onClick={onLeave}>Leave it as it is</Button>
    </Box>
  );
}
