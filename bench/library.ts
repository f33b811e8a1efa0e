import { memoryOf, p95, type Figure, type Rig } from "./rig";
import { connect, seedRecordings } from "../testing/seeds";

const RECORDINGS = 10_000;
const LOOKS = 120;

/** @returns how long a page of the library takes, in ms */
export async function lookAtLibrary(rig: Rig, query: string): Promise<number> {
  const began = performance.now();
  const answer = await fetch(`${rig.base}/library.data${query}`, { headers: { cookie: rig.cookie } });
  await answer.arrayBuffer();
  if (!answer.ok) throw new Error(`library${query}: ${answer.status}`);
  return performance.now() - began;
}

/** Ten thousand recordings: pages of the library, searched and sorted, one at a time. */
export async function library(rig: Rig): Promise<Figure[]> {
  const client = await connect(rig.databaseUrl);
  await seedRecordings(client, "bench@glasshouse.test", RECORDINGS);
  await client.end();
  const queries = ["", "?sort=oldest", "?sort=title", "?sort=longest", "?q=vent", "?q=part+99", "?show=deleted"];
  for (let n = 0; n < 40; n++) await lookAtLibrary(rig, queries[n % queries.length]!);
  const before = memoryOf(rig);
  const times: number[] = [];
  for (let n = 0; n < LOOKS; n++) times.push(await lookAtLibrary(rig, queries[n % queries.length]!));
  const grown = memoryOf(rig) - before;
  return [
    {
      bench: "library",
      figure: `page of ${RECORDINGS} recordings, p95 of ${LOOKS}`,
      value: p95(times),
      unit: "ms",
      goal: "≤ 100",
      met: p95(times) <= 100,
    },
    {
      bench: "library",
      figure: `memory grown over ${LOOKS} pages`,
      value: grown,
      unit: "MB",
      goal: "≤ 30",
      met: grown <= 30,
    },
  ];
}
