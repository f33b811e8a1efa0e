import Hls from "hls.js/light";
import type { Layer as Listed } from "#server/playback/playback";
import { HlsLayer } from "./hls-layer";
import type { Layer, LayerEvents } from "./layer";
import { NativeLayer } from "./native-layer";

export type OpenLayer = (media: HTMLMediaElement, url: string, start: number, events: LayerEvents) => Layer;

const bySource = () => Hls.isSupported();

/** By Media Source where there is one; else the element is given the playlist itself, as on older phones. */
export const openLayer: OpenLayer = (media, url, start, events) =>
  bySource() ? new HlsLayer(media, url, start, events) : new NativeLayer(media, url, start, events);

/** The layers that this browser plays: where it plays playlists by itself, it keeps picture and voice together. */
export const playedHere = (layers: Listed[]): Listed[] =>
  bySource()
    ? layers
    : layers.filter((l) => l.role !== "voice").map((l) => (l.withVoice ? { ...l, url: l.withVoice } : l));
