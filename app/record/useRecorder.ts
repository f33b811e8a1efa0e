import { patientFetch } from "#capture/outbox/patient-fetch";
import { useEffect, useSyncExternalStore } from "react";
import type { RecorderState } from "#capture/recorder-state";
import { Recorder } from "#capture/recorder";
import { starter } from "#capture/start-take";
import { noted, noteRecorder } from "./diary";
import { theOutbox } from "./outbox";
import { tab } from "./tab";

declare global {
  interface Window {
    /** the recorder of this tab, for measuring from outside */
    clearNodRecorder?: Recorder;
  }
}

/** The recorder of this tab; null on the server and for the first moment in the browser. */
export function useRecorder(): Recorder | null {
  const { recorder } = useSyncExternalStore(tab.subscribe, tab.snapshot, tab.snapshot);
  useEffect(() => {
    if (tab.snapshot().recorder) return;
    const made = new Recorder({ outbox: theOutbox(), startTake: starter(noted(patientFetch)) });
    noteRecorder(made);
    window.clearNodRecorder = made;
    tab.tell({ recorder: made });
  }, []);
  return recorder;
}

const none = () => () => undefined;
export function useRecorderState(recorder: Recorder | null): RecorderState | null {
  return useSyncExternalStore(
    recorder?.subscribe ?? none,
    () => recorder?.snapshot() ?? null,
    () => null,
  );
}
