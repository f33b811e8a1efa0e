import type { Limit } from "#capture/recorder-state";
import type { StopAfter } from "#core/desk/wishes";
import type { TakeSource, TrackKind } from "#core/media/tracks";
import { SECOND } from "#core/time/micros";
import type { LocalMoment } from "#core/title/title";
import type { Room } from "#server/desk/room";
import type { Doubt } from "./RecordButton";

/** What will be recorded, as far as it is known before the surface is chosen. */
export function kindsOf(source: TakeSource, withVoice: boolean): TrackKind[] {
  const pictures: TrackKind[] = source === "screen-camera" ? ["screen", "camera"] : source === "voice" ? [] : [source];
  return withVoice ? [...pictures, "microphone"] : pictures;
}

/** What was chosen and does not deliver, in one sentence. */
export function doubtOf({ voice, picture, sole }: { voice: boolean; picture: boolean; sole: boolean }): Doubt | null {
  if (voice && picture) {
    return {
      what: "Neither the microphone nor the camera is delivering anything.",
      goOn: "Record the screen without them",
    };
  }
  if (voice && sole) return { what: "The microphone gives no sound at all.", goOn: "Record all the same" };
  if (voice) {
    return {
      what: "Your voice is to be recorded, but the microphone gives no sound.",
      goOn: "Record without my voice",
    };
  }
  return picture
    ? { what: "The camera is to be recorded, but it gives no picture.", goOn: "Record without the camera" }
    : null;
}

/** A moment as this computer's clock and calendar show it. */
export const localMoment = (at: Date): LocalMoment => ({
  weekday: at.getDay(),
  day: at.getDate(),
  month: at.getMonth(),
  hour: at.getHours(),
  minute: at.getMinutes(),
});

/** The one of both that comes first. */
export function limitOf(stopAfter: StopAfter, { longestUs }: Room): Limit | null {
  const chosen = stopAfter === "never" ? Infinity : 60 * Number(stopAfter) * SECOND;
  if (longestUs !== null && longestUs <= chosen) return { at: longestUs, why: "workspace" };
  return chosen < Infinity ? { at: chosen, why: "chosen" } : null;
}
