import type { Recorder } from "#capture/recorder";
import type { RecorderState } from "#capture/recorder-state";
import type { KeyDeed } from "#core/desk/keys";
import { nextCorner, nextScene } from "#core/layout/layout";
import { canFloat, toggleFloating } from "./floating";
import { pen } from "./pen";

export type Deeds = Partial<Record<KeyDeed, () => void>>;

/** What can be done to a take that is under way, on its page and in the floating window alike. */
export function takeDeeds(recorder: Recorder, state: RecorderState): Deeds {
  const { phase, muted, shared, arrangement } = state;
  if (phase !== "recording" && phase !== "paused") return {};
  const { scene, place } = arrangement;
  const mute = (kind: "microphone" | "sound") => () => recorder.mute(kind, !muted.includes(kind));
  return {
    pause: () => (phase === "paused" ? recorder.resume() : recorder.pause()),
    stop: () => void recorder.stop(),
    mistake: () => void recorder.entries.note({ what: "mistake", text: "" }),
    ...(recorder.deviceOf("microphone") && { microphone: mute("microphone") }),
    ...(shared?.withSound && { sound: mute("sound") }),
    ...(recorder.arranges && {
      scene: () => recorder.arrange({ scene: nextScene(scene) }),
      picture: () => recorder.arrange({ scene: scene === "screen" ? "inset" : "screen" }),
      corner: () => recorder.arrange({ place: nextCorner(place) }),
    }),
    ...(shared && {
      draw: () => pen.change({ drawing: !pen.snapshot().drawing }),
      undo: () => recorder.entries.undo(),
      clear: () => recorder.entries.clear(),
    }),
  };
}

/** What can be done in every phase. */
export const windowDeeds = (): Deeds => (canFloat() ? { float: () => void toggleFloating() } : {});
