import { useEffect, useState } from "react";
import type { Shared } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { areaOf, cropOf } from "#core/layout/area";
import type { Rect, Size } from "#core/layout/layout";

/** What is recorded of a surface, while it is being chosen. Pixels of the surface. */
export interface AreaDraft {
  surface: Size;
  pixels: Rect;
  /** its shape is kept */
  locked: boolean;
  /** shows a change that is still going on, as while the pointer is down */
  show: (pixels: Rect) => void;
  /** makes it what is recorded: even numbers, within the surface */
  settle: (pixels: Rect) => void;
  lock: (locked: boolean) => void;
  close: () => void;
}

/** The area of what is shown, and its choosing, which ends with what it belongs to. */
export function useArea(recorder: Recorder, shared: Shared | null, idle: boolean) {
  const [pixels, setPixels] = useState<Rect | null>(null);
  const [locked, setLocked] = useState(false);
  const surface = shared?.size ?? null;
  const screen = shared?.screen;
  useEffect(() => setPixels(null), [screen, idle]);

  const settle = (to: Rect) => {
    const area = areaOf(surface!, to);
    setPixels(cropOf(surface!, area));
    void recorder.crop(area);
  };
  const draft: AreaDraft | null = surface &&
    pixels && { surface, pixels, locked, show: setPixels, settle, lock: setLocked, close: () => setPixels(null) };
  return { draft, open: surface ? () => setPixels(cropOf(surface, shared!.area)) : null };
}
