import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { makeTrack } from "../testing/media";
import { connect } from "../testing/seeds";
import { anHour, HOUR_MINUTES, HOUR_TRACKS, without } from "./an-hour";
import { figureOf, median, type Figure, type Rig } from "./rig";

/** Three cuts and both trims, in seconds. Each time they lie elsewhere, so that no edge is there. */
const cutsOf = (n: number): [from: number, to: number][] => [
  [0, 3.1 + n * 1.3],
  [611.3 + n * 2.1, 619.7 + n * 2.3],
  [1800.5 + n * 1.7, 1825.2 + n * 1.1],
  [2990.1 + n * 1.9, 2995.9 + n * 2.9],
  [3588.4 - n * 1.3, 3601],
];
const TIMES = 3;
/** What one encoder needs for so much is scaled to the whole. Seconds. */
const ENCODED = 20;
const AGAIN_MS = 20;

/** Edits of an hour of 1080p, published at once and after their edges were made; and a whole encoding. */
export async function republish(rig: Rig): Promise<Figure[]> {
  const hour = await anHour(rig);
  const db = await connect(rig.databaseUrl);
  const edges = async () => Number((await db.query<{ n: string }>("select count(*) as n from edges")).rows[0]!.n);
  let [revision, version] = [1, 0];
  const save = async (n: number) => {
    const history = JSON.stringify(without(hour, cutsOf(n)));
    const saved = await hour.post("/draft", { do: "save", version: `${version}`, seen: `${revision}`, history });
    version = saved.version!;
  };
  /** @returns how long it took from the press until the playlists of all tracks are there, in ms */
  const publish = async (): Promise<number> => {
    const began = performance.now();
    await hour.post("/draft", { do: "publish", version: `${version}`, seen: `${revision++}` });
    for (;;) {
      const lists = await Promise.all(
        Object.keys(HOUR_TRACKS).map((name) => fetch(`${rig.base}/w/${hour.token}/r${revision}/${name}.m3u8`)),
      );
      await Promise.all(lists.map((list) => list.text()));
      if (lists.every((list) => list.ok)) return performance.now() - began;
      if (performance.now() - began > 120_000) throw new Error("it was not published");
      await new Promise((next) => setTimeout(next, AGAIN_MS));
    }
  };
  const [cold, ready]: [number[], number[]] = [[], []];
  try {
    for (let n = 0; n < TIMES; n++) {
      await save(2 * n);
      cold.push(await publish());
      await save(2 * n + 1);
      // As when a person looks at it for a while.
      for (let before = -1, now = await edges(); before < now; before = now, now = await edges())
        await new Promise((next) => setTimeout(next, 4_000));
      ready.push(await publish());
    }
  } finally {
    await db.end();
  }
  const encoding = encodingOf(rig);
  const figure = figureOf("republish");
  const [slow, quick] = [median(cold) / 1000, median(ready) / 1000];
  const times = encoding / slow;
  return [
    figure("an hour, 3 cuts and both trims: press to last playlist", slow, "s", "≤ 2", slow <= 2),
    figure("the same, most of 3", Math.max(...cold) / 1000, "s"),
    figure("the same when its edges are there, median of 3", quick, "s", "≤ 0.3", quick <= 0.3),
    figure(`the screen encoded anew, ${ENCODED} s scaled to the hour`, encoding, "s"),
    figure("quicker than that by", times, "×", "≥ 100", times >= 100),
  ];
}

/** How long an encoder takes for the picture of an hour, in seconds. */
function encodingOf(rig: Rig): number {
  const { init, segments } = makeTrack(HOUR_TRACKS.screen, ENCODED);
  const file = join(rig.dir, "screen.mp4");
  writeFileSync(file, Buffer.concat([init, ...segments]));
  const began = performance.now();
  const encoder = ["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-f", "null", "-"];
  execFileSync("ffmpeg", ["-v", "error", "-i", file, ...encoder]);
  return (((performance.now() - began) / 1000) * HOUR_MINUTES * 60) / ENCODED;
}
