import { setTimeout as delay } from "node:timers/promises";
import type { Suppressing } from "#core/audio/suppressing";
import { SUPPRESSED, type TrackName } from "#core/media/tracks";
import { takesOf } from "#core/recipe/edits";
import type { Recipe } from "#core/recipe/recipe";
import { Problem } from "../http/problem";
import type { Suppressions } from "./suppress";

/** Which voice of its takes is played: as it was recorded, or without the noise around it. */
export type Voice = "microphone" | typeof SUPPRESSED;

export const voiceOf = ({ suppression }: Recipe): Voice => (suppression?.microphone ? SUPPRESSED : "microphone");

/** How often it is looked whether a voice is made. */
const AGAIN_MS = 500;

/** Asks for the voices that a recipe wants without their noise. @returns where the last of them stands */
export async function askForVoices(
  suppressions: Suppressions,
  recordingId: string,
  recipe: Recipe,
): Promise<Suppressing> {
  return voiceOf(recipe) === SUPPRESSED ? suppressions.want(recordingId, takesOf(recipe.kept)) : "made";
}

/** Waits for them. @throws {Problem} 409 where one cannot be made */
export async function waitForVoices(
  suppressions: Suppressions,
  recordingId: string,
  recipe: Recipe,
  signal: AbortSignal,
): Promise<void> {
  for (;;) {
    const state = await askForVoices(suppressions, recordingId, recipe);
    if (state === "made") return;
    if (state === "failed")
      throw new Problem(409, "not-suppressed", "The noise cannot be taken out of this voice. Publish it with it.");
    await delay(AGAIN_MS, undefined, { signal });
  }
}

/**
 * The tracks that are played, and what each is played as. Until a voice without its noise is made, the other one is.
 * @param voice which one is played; both of them, by their own names
 */
export function playedAs<T extends { name: TrackName; position: number }>(
  tracks: readonly T[],
  voice: Voice | "both",
): { track: T; as: TrackName }[] {
  const has = (position: number) => tracks.some((t) => t.position === position && t.name === voice);
  return tracks.flatMap((track) => {
    const { name, position } = track;
    if (voice === "both" || (name !== "microphone" && name !== SUPPRESSED)) return [{ track, as: name }];
    return name === (has(position) ? voice : "microphone") ? [{ track, as: "microphone" as const }] : [];
  });
}
