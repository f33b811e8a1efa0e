import { useMemo } from "react";
import { arrangedScene, dressAsShown, marksOn, oversOn, rearranged, type ShownDress } from "#core/recipe/as-shown";
import { SUPPRESSED } from "#core/media/tracks";
import type { Dress } from "#core/recipe/dress";
import type { RecordedLine } from "#core/recipe/recorded-line";
import type { Range } from "#core/time/ranges";
import type { Layer, Playable } from "#server/playback/playback";

/**
 * Everything that was recorded, with what an edit puts on it, in recorded time. Cards stand outside of it.
 * @param isSuppressed the voice is wanted without its noise, and is there
 */
export function useDressed(recorded: Playable, line: RecordedLine, dress: Dress, isSuppressed: boolean): Playable {
  return useMemo((): Playable => {
    const put: ShownDress = { ...dressAsShown(line, dress), cards: {} };
    const over = oversOn(line, dress.scenes)
      .filter((stretch) => showsBoth(recorded.layers, stretch))
      .map((stretch) => ({ ...stretch, scene: arrangedScene(recorded.frame, stretch.arranged) }));
    const marks = [...recorded.marks, ...marksOn(line, dress.marks)].sort((a, b) => a.from - b.from);
    const layers = isSuppressed ? recorded.layers.map(withoutNoise) : recorded.layers;
    return { ...recorded, layers, scenes: rearranged(recorded.scenes, over), marks, dress: put };
  }, [recorded, line, dress, isSuppressed]);
}

/** The voice as it is when the noise around it is taken out. */
const withoutNoise = (layer: Layer): Layer =>
  layer.name === "microphone" ? { ...layer, url: layer.url.replace(/microphone\.m3u8$/, `${SUPPRESSED}.m3u8`) } : layer;

/** Are a screen and a camera there all the time? */
export const showsBoth = (layers: readonly Layer[], { from, to }: Range): boolean =>
  ["screen", "camera"].every((name) => {
    const layer = layers.find((l) => l.name === name);
    return layer && (!layer.spans || layer.spans.some((span) => span.from < to && from < span.to));
  });
