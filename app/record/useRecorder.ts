import { useEffect, useSyncExternalStore } from "react";
import type { NewRecording, RecorderState, StartTake } from "#capture/recorder-state";
import { Recorder } from "#capture/recorder";
import { theOutbox } from "./outbox";
import { tab } from "./tab";

declare global {
  interface Window {
    /** the recorder of this tab, for measuring from outside */
    clearNodRecorder?: Recorder;
  }
}

/** No more than the server asks for. */
const pick = ({ title, audience, ask, description, tags }: Omit<NewRecording, "source" | "takeOf">) => ({
  title,
  audience,
  ask,
  description,
  tags,
});

const startTake: StartTake = async ({ source, takeOf, ...recording }) => {
  let answer: Response;
  try {
    answer = await fetch("/takes", {
      method: "POST",
      body: JSON.stringify(takeOf ? { source, recording: takeOf } : { source, ...pick(recording) }),
      headers: { "content-type": "application/json" },
    });
  } catch {
    throw new Error(
      "The server cannot be reached, so no recording was started. Check the connection, then press Record again.",
    );
  }
  const said = (await answer.json().catch(() => ({}))) as Awaited<ReturnType<StartTake>> & { message?: string };
  if (!answer.ok)
    throw new Error(
      said.message ?? "The server could not start a recording. Nothing was recorded. Try again in a moment.",
    );
  return said;
};

/** The recorder of this tab; null on the server and for the first moment in the browser. */
export function useRecorder(): Recorder | null {
  const { recorder } = useSyncExternalStore(tab.subscribe, tab.snapshot, tab.snapshot);
  useEffect(() => {
    if (tab.snapshot().recorder) return;
    const made = new Recorder({ outbox: theOutbox(), startTake });
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
