import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { makeTrack } from "../testing/media";
import { feed, figureOf, finish, median, type Figure, type Rig } from "./rig";

const TRACKS = { screen: "screen-1080", camera: "camera-480", microphone: "aac" } as const;
const MINUTES = 60;
/** In seconds: a stretch is left out at each, two of them at the ends. */
const CUTS: [from: number, to: number][] = [
  [0, 3.1],
  [611.3, 619.7],
  [1800.5, 1825.2],
  [2990.1, 2995.9],
  [3588.4, 3600.1],
];
/** What one encoder needs for so much is scaled to the whole. Seconds. */
const ENCODED = 20;
const AGAIN_MS = 20;

/** Three cuts and both trims of an hour of 1080p, each published by itself; all of them again; and a whole encoding. */
export async function republish(rig: Rig): Promise<Figure[]> {
  const { takeId, token, recordingId } = await rig.start("screen-camera");
  await finish(rig, takeId, await feed(rig, takeId, TRACKS, MINUTES * 60));
  let revision = 1;
  /** @returns how long it took from the press until the playlists of all tracks are there, in ms */
  const publish = async (deed: Record<string, string>): Promise<number> => {
    const began = performance.now();
    const body = new URLSearchParams({ ...deed, seen: String(revision++) });
    const headers = { cookie: rig.cookie, origin: rig.base };
    const asked = await fetch(`${rig.base}/recordings/${recordingId}`, { method: "POST", body, headers });
    if (!asked.ok) throw new Error(`not taken: ${asked.status}`);
    for (;;) {
      const lists = await Promise.all(
        Object.keys(TRACKS).map((name) => fetch(`${rig.base}/w/${token}/r${revision}/${name}.m3u8`, { headers })),
      );
      await Promise.all(lists.map((list) => list.text()));
      if (lists.every((list) => list.ok)) return performance.now() - began;
      if (performance.now() - began > 120_000) throw new Error("it was not published");
      await new Promise((next) => setTimeout(next, AGAIN_MS));
    }
  };
  const leaveOut = async () => {
    const each: number[] = [];
    for (const [from, to] of CUTS)
      each.push(await publish({ do: "leave-out", from: String(from * 1e6), to: String(to * 1e6) }));
    return each;
  };
  const cold = await leaveOut();
  const back = await publish({ do: "as-recorded" });
  const warm = await leaveOut();
  const encoding = encodingOf(rig);
  const figure = figureOf("republish");
  const [most, ready] = [Math.max(...cold) / 1000, median(warm) / 1000];
  const times = (encoding * 1000) / median(cold);
  return [
    figure("a cut of an hour, 1080p: from the press to the last playlist, most of 5", most, "s", "≤ 2", most <= 2),
    figure("the same, median", median(cold) / 1000, "s"),
    figure("a cut whose edges are there, median of 5", ready, "s", "≤ 0.3", ready <= 0.3),
    figure("back to what was recorded", back / 1000, "s"),
    figure(`the screen encoded anew, ${ENCODED} s scaled to the hour`, encoding, "s"),
    figure("quicker than that by", times, "×", "≥ 100", times >= 100),
  ];
}

/** How long an encoder takes for the picture of an hour, in seconds. */
function encodingOf(rig: Rig): number {
  const { init, segments } = makeTrack(TRACKS.screen, ENCODED);
  const file = join(rig.dir, "screen.mp4");
  writeFileSync(file, Buffer.concat([init, ...segments]));
  const began = performance.now();
  const encoder = ["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-f", "null", "-"];
  execFileSync("ffmpeg", ["-v", "error", "-i", file, ...encoder]);
  return (((performance.now() - began) / 1000) * MINUTES * 60) / ENCODED;
}
