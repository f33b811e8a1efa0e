import type { Micros } from "#core/time/micros";
import { openLayer } from "./open-layer";
import { untilThere } from "./still";

/**
 * Pictures of a layer, one after the other, from a video that nobody sees.
 * @param moments as they are shown, in order
 * @throws where one does not come; the signal's reason where it is aborted
 */
export async function* picturesOf(
  url: string,
  moments: readonly Micros[],
  signal: AbortSignal,
): AsyncGenerator<{ at: Micros; picture: ImageBitmap }> {
  const [first] = moments;
  if (first === undefined) return;
  const video = Object.assign(document.createElement("video"), { muted: true, preload: "auto", playsInline: true });
  let problem: string | null = null;
  const layer = openLayer(video, url, first / 1e6, {
    onChange: () => (problem = null),
    onFailed: (words) => (problem = words),
  });
  try {
    for (const at of moments) {
      signal.throwIfAborted();
      if (video.readyState >= HTMLMediaElement.HAVE_METADATA) video.currentTime = at / 1e6;
      else video.addEventListener("loadedmetadata", () => (video.currentTime = at / 1e6), { once: true });
      await untilThere(video, at, signal).catch((error: unknown) => {
        throw problem === null ? error : new Error(problem);
      });
      yield { at, picture: await createImageBitmap(video) };
    }
  } finally {
    layer.destroy();
  }
}
