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
  if (!video) throw notCome();
  await untilThere(video, at);
  return frameOf(video, { type: "image/png" });
}

/** @throws when a video does not come to show a moment; the signal's reason where nobody waits any more */
export async function untilThere(video: HTMLVideoElement, at: Micros, signal?: AbortSignal): Promise<void> {
  for (const end = performance.now() + PATIENCE_MS; !isThere(video, at / 1e6);) {
    signal?.throwIfAborted();
    if (performance.now() > end) throw notCome();
    await new Promise((next) => setTimeout(next, LOOK_MS));
  }
}

const notCome = () => new Error("The picture of this moment did not come. Try again.");

const isThere = (video: HTMLVideoElement, at: number) =>
  !video.seeking &&
  video.readyState >= HTMLMediaElement.HAVE_CURRENT_DATA &&
  Math.abs(video.currentTime - Math.min(at, video.duration)) < NEAR;
