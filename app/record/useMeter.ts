import { useEffect, useState } from "react";
import { LevelMeter } from "#capture/level-meter";
import type { Recorder } from "#capture/recorder";
import { alarmOf, type SoundAlarm } from "#core/audio/hearing";

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

/** What is wrong with the sound. Looked at by a timer: a hidden page draws nothing, and must still notice. */
export function useSoundAlarm(meter: LevelMeter | null, recorder: Recorder): SoundAlarm | null {
  const [alarm, setAlarm] = useState<SoundAlarm | null>(null);
  useEffect(() => {
    if (!meter) return setAlarm(null);
    let read: number | undefined;
    let movedAt = performance.now();
    const look = () => {
      const now = performance.now();
      const heard = meter.hear(now);
      const before = read;
      read = recorder.health().pace.screen?.read;
      // Where no screen is recorded, whoever says nothing is looked at, or is all there is.
      if (read === undefined || read !== before) movedAt = now;
      setAlarm(heard && alarmOf(heard, now - movedAt));
    };
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }, [meter, recorder]);
  return alarm;
}
