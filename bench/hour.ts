import { feed, finish, memoryOf, type Figure, type Rig } from "./rig";

const TRACKS = { screen: "screen", camera: "camera", microphone: "microphone" } as const;
const MINUTES = 60;
/** What is kept in memory for whoever asks again fills up at first: from here on it has to stay. */
const SETTLED_MINUTES = 20;

/** An hour of three tracks fed through ingest as fast as it goes, in takes of ten minutes: memory has to stay flat. */
export async function hour(rig: Rig): Promise<Figure[]> {
  const began = performance.now();
  let settled = 0;
  let segments = 0;
  for (let minutes = 10; minutes <= MINUTES; minutes += 10) {
    const { takeId } = await rig.start("screen-camera");
    const expected = await feed(rig, takeId, TRACKS, 600);
    await finish(rig, takeId, expected);
    segments += Object.values(expected).reduce((sum, n) => sum + n, 0);
    if (minutes === SETTLED_MINUTES) settled = memoryOf(rig);
  }
  const rate = segments / ((performance.now() - began) / 1000);
  const grown = memoryOf(rig) - settled;
  return [
    {
      bench: "hour",
      figure: "segments of an hour of three tracks taken in",
      value: rate,
      unit: "/s",
      goal: "",
      met: null,
    },
    {
      bench: "hour",
      figure: `memory of the server grown from minute ${SETTLED_MINUTES} to ${MINUTES}`,
      value: grown,
      unit: "MB",
      goal: "≤ 30",
      met: grown <= 30,
    },
  ];
}
