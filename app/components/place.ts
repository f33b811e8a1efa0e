import { useRef, type CSSProperties } from "react";
import type { Rect } from "#core/layout/layout";
import type { SceneLayer } from "#core/layout/scene";

const percent = (share: number) => `${100 * share}%`;

/** A rectangle in shares of the frame, as the style of what lies in it. */
export const placeStyle = ({ x, y, width, height }: Rect) => ({
  left: percent(x),
  top: percent(y),
  width: percent(width),
  height: percent(height),
});

/**
 * A layer of a scene, as the style of what shows it: a track that is not seen stays where it was, and goes on.
 * @param fade how long it takes to come and go, in ms; 0 for at once
 * @param last where it was seen last, for one that fades
 */
export function layerStyle(
  layer: SceneLayer | null | undefined,
  fade: number,
  last: SceneLayer | null | undefined = layer,
): CSSProperties {
  const hides = !layer;
  return {
    ...(last && placeStyle(last.rect)),
    opacity: hides ? 0 : 1,
    // What has gone is not pressed and not read; it goes when it has faded.
    visibility: hides ? "hidden" : "visible",
    transition:
      fade > 0
        ? ["left", "top", "width", "height", "opacity", "visibility"].map((p) => `${p} ${fade}ms`).join()
        : "none",
  };
}

/** A layer as it was when it was seen last. */
export function useLastSeen(layer: SceneLayer | null | undefined): SceneLayer | null {
  const last = useRef<SceneLayer>(null);
  if (layer) last.current = layer;
  return last.current;
}
