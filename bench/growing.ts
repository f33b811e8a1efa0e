import { Agent, request } from "node:http";
import { readInit } from "../core/media/init";
import { retime } from "../core/media/retime";
import type { TrackKind } from "../core/media/tracks";
import { makeTrack, type MadeKind } from "../testing/media";
import { feed, figureOf, p95, processorOf, type Figure, type Rig } from "./rig";

const VIEWERS = 300;
/** What is there when they come, and how long they are looked at; a segment lasts two. Seconds. */
const THERE = 600;
const LOOKED_AT = 20;
const SEGMENT = 2;
const TRACKS: Partial<Record<TrackKind, MadeKind>> = {
  screen: "screen",
  camera: "camera",
  microphone: "microphone",
};

/**
 * A class watches while it is recorded: each page asks every two seconds whether there is something new, and that alone
 * is measured first; then its player asks as well, for each playlist and the newest segments.
 */
export async function growing(rig: Rig): Promise<Figure[]> {
  const { takeId, token } = await rig.start("screen-camera");
  await feed(rig, takeId, TRACKS, THERE);
  const agent = new Agent({ keepAlive: true, maxSockets: VIEWERS });
  const times: number[] = [];
  const bytes = { growth: 0, playlist: 0 };
  const refused: string[] = [];
  const ask = (path: string): Promise<number> => {
    const began = performance.now();
    return new Promise((done, failed) => {
      request(`${rig.base}${path}`, { agent }, (res) => {
        let length = 0;
        if (res.statusCode !== 200) refused.push(`${path} ${res.statusCode}`);
        res.on("data", (part: Buffer) => (length += part.length));
        res.on("end", () => {
          times.push(performance.now() - began);
          done(length);
        });
        res.on("error", failed);
      })
        .on("error", failed)
        .end();
    });
  };
  const from = `/w/${token}/r1`;
  const names = Object.keys(TRACKS);
  for (const name of names) await ask(`${from}/${name}.m3u8`);
  times.length = 0;

  let number = THERE / SEGMENT;
  let over = false;
  let plays = false;
  const record = async () => {
    for (const end = performance.now() + LOOKED_AT * 1000; performance.now() < end;) {
      const next = number + 1;
      for (const [kind, what] of Object.entries(TRACKS) as [TrackKind, MadeKind][]) {
        const { init, segments } = makeTrack(what, 20);
        const which = (next - 1) % (segments.length - 1);
        const ticks = (next - 1 - which) * SEGMENT * readInit(init).timescale;
        const answer = await rig.put(`/ingest/${takeId}/${kind}/${next}`, retime(segments[which]!, ticks));
        if (!answer.ok) refused.push(`${kind} ${next}: ${answer.status}`);
      }
      number = next;
      await new Promise((then) => setTimeout(then, SEGMENT * 1000));
    }
    over = true;
  };
  const watch = async (n: number) => {
    await new Promise((next) => setTimeout(next, (SEGMENT * 1000 * n) / VIEWERS));
    for (let seen = number; !over;) {
      const began = performance.now();
      bytes.growth = await ask(`/w/${token}/growth`);
      for (const name of plays ? names : []) bytes.playlist = await ask(`${from}/${name}.m3u8`);
      for (; plays && seen < number && !over; seen++)
        for (const name of names) await ask(`${from}/${name}/${seen + 1}.m4s`);
      await new Promise((next) => setTimeout(next, Math.max(0, SEGMENT * 1000 - (performance.now() - began))));
    }
  };
  /** The share of a processor that this takes, in percent, and how many answers there are in a second. */
  const measured = async () => {
    const before = processorOf(rig);
    const began = performance.now();
    over = false;
    times.length = 0;
    await Promise.all([record(), ...Array.from({ length: VIEWERS }, (_, n) => watch(n))]);
    const ms = performance.now() - began;
    return { share: (100 * (processorOf(rig) - before)) / ms, answers: (1000 * times.length) / ms };
  };
  const pages = await measured();
  plays = true;
  const all = await measured();
  agent.destroy();
  if (refused.length > 0) console.error(refused.slice(0, 5));
  const figure = figureOf("growing");
  return [
    figure(`${VIEWERS} pages of what is recorded, share of a processor`, pages.share, "%", "≤ 15", pages.share <= 15),
    figure("their answers a second", pages.answers, ""),
    figure("with their players, share of a processor", all.share, "%"),
    figure("answers a second", all.answers, ""),
    figure("an answer, p95", p95(times), "ms"),
    figure("what a page asks for every 2 s", bytes.growth, "bytes", "≤ 200", bytes.growth <= 200),
    figure("a playlist of 10 minutes", bytes.playlist / 1000, "kB"),
    figure("refused", refused.length, "", "0", refused.length === 0),
  ];
}
