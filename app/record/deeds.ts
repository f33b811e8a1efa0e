import type { Recorder } from "#capture/recorder";
import type { RecorderState } from "#capture/recorder-state";
import type { KeyDeed } from "#core/desk/keys";
import { nextCorner, nextScene, type Arrangement } from "#core/layout/layout";
import { goBack } from "./going-back";
import { canFloat, toggleFloating } from "./floating";
import { pen } from "./pen";
import { nextCamera, tab } from "./tab";

export type Deeds = Partial<Record<KeyDeed, () => void>>;

/** What can be done to a take that is under way, on its page and in the floating window alike. */
export function takeDeeds(recorder: Recorder, state: RecorderState): Deeds {
  const { phase, muted, shared, arrangement } = state;
  if (phase !== "recording" && phase !== "paused") return {};
  const mute = (kind: "microphone" | "sound") => () => recorder.mute(kind, !muted.includes(kind));
  return {
    pause: () => (phase === "paused" ? recorder.resume() : recorder.pause()),
    stop: () => void recorder.stop(),
    ...cameraDeeds(),
    ...(recorder.hasPicture && { still: () => void recorder.entries.note({ what: "still", text: "" }) }),
    back: () => goBack(recorder),
    mistake: () => void recorder.entries.note({ what: "mistake", text: "" }),
    ...(recorder.deviceOf("microphone") && { microphone: mute("microphone") }),
    ...(shared?.withSound && { sound: mute("sound") }),
    ...(recorder.arranges && arrangeDeeds(arrangement, (change) => recorder.arrange(change))),
    ...(shared && {
      draw: () => pen.change({ drawing: !pen.snapshot().drawing }),
      undo: () => recorder.entries.undo(),
      clear: () => recorder.entries.clear(),
    }),
  };
}

/** What can be done with a camera picture and a screen, before a take as well. */
export const arrangeDeeds = (
  { scene, place }: Arrangement,
  arrange: (change: Partial<Arrangement>) => void,
): Deeds => ({
  scene: () => arrange({ scene: nextScene(scene) }),
  picture: () => arrange({ scene: scene === "screen" ? "inset" : "screen" }),
  corner: () => arrange({ place: nextCorner(place) }),
});

/** Where there are several cameras, before a take as well. */
export function cameraDeeds(): Deeds {
  const { cameras } = tab.snapshot();
  return cameras ? { camera: () => nextCamera(cameras) } : {};
}

/** What can be done in every phase. */
export const windowDeeds = (): Deeds => (canFloat() ? { float: () => void toggleFloating() } : {});
