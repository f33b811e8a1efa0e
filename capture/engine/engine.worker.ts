import type { TrackKind } from "#core/media/tracks";
import { sharedNow, SourceClock } from "../clock";
import { Glimpses } from "./glimpses";
import type { Order, Report } from "./messages";
import { PictureTrack } from "./picture-track";
import type { PartListener } from "./segmenter";
import { REMEMBERED_SECONDS, SoundTrack } from "./sound-track";

const TICK_MS = 8;
/** Ticks between two reports of how the tracks keep up: a second. */
const REPORT_TICKS = 125;

/**
 * Encodes and cuts, off the page's thread. A worker's timers are not slowed down in a hidden tab, so recording goes on
 * while the
 * person works elsewhere.
 */
const clock = new SourceClock();
const pictures = new Map<TrackKind, PictureTrack>();
const sounds = new Map<TrackKind, SoundTrack>();
let timer: ReturnType<typeof setInterval> | undefined;
let ticks = 0;
let limit = Infinity;
const glimpses = new Glimpses(REMEMBERED_SECONDS);

const scope = self as unknown as {
  postMessage(report: Report, transfer?: Transferable[]): void;
  onmessage: ((e: MessageEvent<Order>) => void) | null;
};
const report = (message: Report) => scope.postMessage(message, message.type === "part" ? [message.bytes] : []);
const failed = (error: unknown) =>
  report({ type: "failed", message: error instanceof Error ? error.message : String(error) });
const partListener =
  (kind: TrackKind): PartListener =>
  (number, bytes, end) =>
    report({ type: "part", kind, number, bytes: bytes.buffer, end });

scope.onmessage = ({ data: order }) => void carryOut(order).catch(failed);

async function carryOut(order: Order): Promise<void> {
  switch (order.type) {
    case "open": {
      for (const source of order.sources) {
        if ("frames" in source) pictures.set(source.kind, new PictureTrack(source, failed));
        else sounds.set(source.kind, new SoundTrack(source, order.sound, clock, partListener(source.kind), failed));
      }
      await Promise.all(
        [...pictures].map(async ([kind, track]) => track.first.then(() => track.open(partListener(kind)))),
      );
      await Promise.all([...sounds.values()].map((track) => track.open(order.suppression)));
      return report({ type: "ready" });
    }
    case "start":
      clock.start(order.at);
      limit = order.limit ?? Infinity;
      timer = setInterval(tick, TICK_MS);
      return tick();
    case "pause":
      skipSleep(order.at);
      return clock.pause(order.at);
    case "resume":
      return clock.resume(order.at);
    case "replace":
      if ("frames" in order.source) pictures.get(order.source.kind)?.replace(order.source);
      else sounds.get(order.source.kind)?.replace(order.source);
      return;
    case "turn":
      return sounds.get(order.kind)?.turn(order.gain);
    case "recall":
      return report({
        type: "recalled",
        voice: sounds.get("microphone")?.remembered() ?? null,
        glimpses: glimpses.all,
      });
    case "stop":
      return stop(order.at);
    case "abort":
      clearInterval(timer);
      await Promise.all([...pictures.values(), ...sounds.values()].map((track) => track.abort()));
  }
}

function tick(): void {
  if (!clock.running) return;
  const moment = sharedNow();
  skipSleep(moment);
  const now = clock.at(moment);
  if (now >= limit) {
    clock.pause(moment);
    return report({ type: "limit" });
  }
  for (const track of pictures.values()) track.tick(now);
  for (const track of sounds.values()) track.tick(now);
  const seen = (pictures.get("screen") ?? pictures.get("camera"))?.frame;
  if (seen) glimpses.look(seen, now);
  if (++ticks % REPORT_TICKS === 0) reportPace();
}

/** What nobody recorded is a pause: no picture stands for it, and no silence. */
function skipSleep(moment: number): void {
  const slept = clock.look(moment);
  if (!slept) return;
  for (const track of sounds.values()) track.settleAnew();
  report({ type: "slept", ...slept });
}

const reportPace = () =>
  report({
    type: "pace",
    counts: Object.fromEntries([...pictures].map(([kind, track]) => [kind, track.counts])),
    suppressionMs: sounds.get("microphone")?.suppressionMs ?? null,
  });

async function stop(at: number): Promise<void> {
  clearInterval(timer);
  skipSleep(at);
  reportPace();
  const duration = clock.at(at);
  clock.pause(at);
  const counts = await Promise.all([
    ...[...pictures].map(async ([kind, track]) => [kind, await track.finish()] as const),
    ...[...sounds].map(async ([kind, track]) => [kind, await track.finish(duration)] as const),
  ]);
  report({ type: "stopped", expected: Object.fromEntries(counts), duration });
}
