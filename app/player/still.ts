import type { Micros } from "#core/time/micros";
import { frameOf } from "../components/frame-of";
import type { Player } from "./player";

/** How long a picture may take to come. */
const PATIENCE_MS = 20_000;
const LOOK_MS = 50;
/** As near as a picture of 1/30 s can be. Seconds. */
const NEAR = 0.05;

/**
 * The main picture of a moment, as finely as it was recorded. The player goes there, and stands.
 * @throws when it does not come
 */
export async function stillOf(player: Player, at: Micros): Promise<Blob> {
  player.pause();
  player.seek(at);
  const video = document.querySelector<HTMLVideoElement>("video[data-layer=main]");
  for (const end = performance.now() + PATIENCE_MS; !video || !isThere(video, at / 1e6);) {
    if (!video || performance.now() > end) throw new Error("The picture of this moment did not come. Try again.");
    await new Promise((next) => setTimeout(next, LOOK_MS));
  }
  return frameOf(video, { type: "image/png" });
}

const isThere = (video: HTMLVideoElement, at: number) =>
  !video.seeking &&
  video.readyState >= HTMLMediaElement.HAVE_CURRENT_DATA &&
  Math.abs(video.currentTime - Math.min(at, video.duration)) < NEAR;
