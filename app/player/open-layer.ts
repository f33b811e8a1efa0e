import Hls from "hls.js";
import { HlsLayer } from "./hls-layer";
import type { Layer, LayerEvents } from "./layer";
import { NativeLayer } from "./native-layer";

export type OpenLayer = (media: HTMLMediaElement, url: string, start: number, events: LayerEvents) => Layer;

/** By Media Source where there is one; else the element is given the playlist itself, as on older phones. */
export const openLayer: OpenLayer = (media, url, start, events) =>
  Hls.isSupported() ? new HlsLayer(media, url, start, events) : new NativeLayer(media, url, start, events);
