import { feed, finish, type Figure, type Rig } from "./rig";

const LENGTHS = [
  ["10 s", 10],
  ["10 min", 600],
  ["60 min", 3600],
] as const;

/** From Stop to complete playlists of all three tracks, for takes of three lengths fed through the real ingest. */
export async function publish(rig: Rig): Promise<Figure[]> {
  const out: Figure[] = [];
  const ms: number[] = [];
  for (const [name, seconds] of LENGTHS) {
    const { takeId, token } = await rig.start("screen-camera");
    const expected = await feed(rig, takeId, { screen: "screen", camera: "camera", microphone: "microphone" }, seconds);
    const began = performance.now();
    await finish(rig, takeId, expected);
    const texts = await Promise.all(Object.keys(expected).map(async (kind) => (await fetch(`${rig.base}/w/${token}/r1/${kind}.m3u8`)).text()));
    const took = performance.now() - began;
    if (!texts.every((t) => t.includes("#EXT-X-ENDLIST"))) throw new Error(`the playlists of the ${name} take are not complete`);
    ms.push(took);
    out.push({ bench: "publish", figure: `stop to complete playlists, ${name}`, value: took, unit: "ms", goal: "≤ 1000", met: took <= 1000 });
  }
  const ratio = ms[2]! / ms[0]!;
  out.push({ bench: "publish", figure: "60 min / 10 s", value: ratio, unit: "×", goal: "≤ 1.2", met: ratio <= 1.2 });
  return out;
}
