import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import type { Film } from "../server/films/films";
import { joinBytes, makeTrack } from "../testing/media";
import { HOUR_TRACKS } from "./an-hour";
import { feed, figureOf, finish, median, memoryOf, type Figure, type Rig } from "./rig";

/** What is drawn takes long: some minutes of it say how long an hour would. */
const MINUTES = 2;
/** Of what is copied. The whole hour (`MINUTES=60`) is not waited for every time. */
const COPIED_MINUTES = Number(process.env.MINUTES ?? 20);
/** ffmpeg encodes as much of the same pictures without drawing anything. */
const ENCODED_SECONDS = 18;
const AGAIN_MS = 100;

/** Recordings as one file: moving 1080p with a camera over it, which is drawn; a long screen, which is copied. */
export async function film(rig: Rig): Promise<Figure[]> {
  const of = figureOf("film");
  const before = await pages(rig, 40);
  const drawn = await made(rig, "screen-camera", HOUR_TRACKS, MINUTES * 60);
  const copied = await made(rig, "screen", { screen: HOUR_TRACKS.screen, microphone: "noisy" }, COPIED_MINUTES * 60);
  const anHour = (copied.seconds * 60) / COPIED_MINUTES;
  const each = drawn.seconds / (MINUTES * 60);
  const ratio = each / (encodeAlone(rig) / ENCODED_SECONDS);
  const slower = median(drawn.pages) / median(before);
  const grown = Math.max(drawn.megabytes, copied.megabytes);
  return [
    of(`1080p with a camera over it: each second of ${MINUTES} min`, each, "s"),
    of("the same, beside ffmpeg that encodes the screen alone", ratio, "×", "≤ 2.5", ratio <= 2.5),
    of("a watch page meanwhile, median beside before", slower, "×", "≤ 3", slower <= 3),
    of(
      `an hour of a screen, copied (by ${COPIED_MINUTES} min, ${Math.round(copied.size / 1e6)} MB)`,
      anHour,
      "s",
      "≤ 300",
      anHour <= 300,
    ),
    of("memory that the server gained meanwhile", grown, "MB", "≤ 250", grown <= 250),
  ];
}

/** Feeds a take, and has its film made. */
async function made(rig: Rig, source: string, tracks: Parameters<typeof feed>[2], seconds: number) {
  const { takeId, token, recordingId } = await rig.start(source);
  await finish(rig, takeId, await feed(rig, takeId, tracks, seconds));
  // What is made of every take is made first.
  await delay(20_000);
  const path = `${rig.base}/recordings/${recordingId}/film`;
  const headers = { cookie: rig.cookie, origin: rig.base };
  const memory = memoryOf(rig);
  const began = performance.now();
  await fetch(path, { method: "POST", headers, body: new URLSearchParams({ do: "make" }) });
  const times: number[] = [];
  let most = memory;
  for (;;) {
    const film = (await (await fetch(path, { headers })).json()) as Film;
    most = Math.max(most, memoryOf(rig));
    if (film.state === "failed") throw new Error(film.problem);
    if (film.state === "ready") {
      const took = (performance.now() - began) / 1000;
      return { seconds: took, size: film.size, megabytes: most - memory, pages: times };
    }
    times.push(await page(rig, token));
    await delay(AGAIN_MS);
  }
}

/** @returns how long a watch page takes, in ms */
async function page(rig: Rig, token: string): Promise<number> {
  const began = performance.now();
  const answer = await fetch(`${rig.base}/w/${token}`);
  await answer.arrayBuffer();
  if (!answer.ok) throw new Error(`watch page: ${answer.status}`);
  return performance.now() - began;
}

async function pages(rig: Rig, count: number): Promise<number[]> {
  const { takeId, token } = await rig.start("screen");
  await finish(rig, takeId, await feed(rig, takeId, { screen: "screen", microphone: "aac" }, 10));
  await delay(5_000);
  const times: number[] = [];
  for (let n = 0; n < count; n++) times.push(await page(rig, token));
  return times.slice(count / 4);
}

/** How long ffmpeg takes, with the settings of films and as gently, to encode the screen alone. Seconds */
function encodeAlone(rig: Rig): number {
  const { init, segments } = makeTrack(HOUR_TRACKS.screen, ENCODED_SECONDS);
  const file = join(rig.dir, "alone.mp4");
  writeFileSync(file, joinBytes(init, ...segments));
  const settings = ["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-bf", "0", "-pix_fmt", "yuv420p"];
  const began = performance.now();
  execFileSync("nice", ["-n", "10", "ffmpeg", "-v", "error", "-i", file, ...settings, "-f", "null", "-"]);
  return (performance.now() - began) / 1000;
}
