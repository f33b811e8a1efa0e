import { useEffect, useState } from "react";
import { LevelMeter } from "#capture/level-meter";

/** One meter for a microphone, for everything on the page that wants to know how it sounds. */
export function useMeter(track: MediaStreamTrack | null, gain: number): LevelMeter | null {
  const [meter, setMeter] = useState<LevelMeter | null>(null);
  useEffect(() => {
    if (!track) return;
    const made = new LevelMeter(track, gain);
    setMeter(made);
    return () => {
      made.close();
      setMeter(null);
    };
  }, [track, gain]);
  return meter;
}

const LOOK_MS = 250;
/** Said when nothing was heard for so long. */
const QUIET_MS = 15_000;

/** `dead`: it gives nothing at all. `quiet`: nothing was said for a while. */
export type Hush = "dead" | "quiet" | null;

/** Is anything heard? Looked at by a timer: a hidden page draws nothing, and must still notice. */
export function useHush(meter: LevelMeter | null): Hush {
  const [hush, setHush] = useState<Hush>(null);
  useEffect(() => {
    if (!meter) return setHush(null);
    const look = () => {
      const heard = meter.hear(performance.now());
      setHush(heard === null ? null : !heard.delivering ? "dead" : heard.quietFor > QUIET_MS ? "quiet" : null);
    };
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }, [meter]);
  return hush;
}
