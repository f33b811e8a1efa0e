import { join } from "node:path";
import { openRuntime } from "../server/runtime";
import { readSettings } from "../server/settings";
import { connect, seedRecordings } from "../testing/seeds";
import { lookAtLibrary } from "./library";
import { p95, type Figure, type Rig } from "./rig";

const RECORDINGS = 100_000;
const LOOKS = 40;
const LONG_AGO = "3 years";

/** Nights of a large workspace in which nothing was used for years, and what its library takes meanwhile. */
export async function retain(rig: Rig): Promise<Figure[]> {
  const client = await connect(rig.databaseUrl);
  await client.query("set session_replication_role = replica");
  await seedRecordings(client, "bench@glasshouse.test", RECORDINGS);
  // Half of them were opened lately: that is only found out in the first night.
  await client.query(
    "update recordings set used_at = created_at - $1::interval, created_at = created_at - $1::interval",
    [LONG_AGO],
  );
  await client.query("update revisions set published_at = now() - $1::interval", [LONG_AGO]);
  await client.query(
    `update viewers v set last_opened_at = now() - interval '3 years'
       from recordings r where r.id = v.recording_id and r.duration_us % 2000000 = 0`,
  );
  await client.query("update workspaces set unused_days = 365");
  await client.query("select refresh_owed(id) from recordings");
  await client.query("vacuum analyze");
  await client.end();
  const settings = readSettings({ DATA_DIR: join(rig.dir, "other"), LOG_LEVEL: "silent", ROLE: "web" });
  const runtime = await openRuntime(settings, rig.databaseUrl);
  const night = async () => {
    const began = performance.now();
    const { told } = await runtime.retention.run(AbortSignal.timeout(600_000));
    return { seconds: (performance.now() - began) / 1000, told };
  };
  try {
    const before = await looks(rig);
    let during: number[] = [];
    let isNight = true;
    const first = night().finally(() => (isNight = false));
    while (isNight) during = [...during, await lookAtLibrary(rig, "")];
    const { seconds, told } = await first;
    const again = await night();
    if (told < RECORDINGS / 4 || again.told > 0) throw new Error(`told ${told}, then ${again.told}`);
    const ratio = median(during) / median(before);
    const of = `${RECORDINGS} recordings, ${told} of them not used`;
    return [
      {
        bench: "retain",
        figure: `the first night of ${of}`,
        value: seconds,
        unit: "s",
        goal: "≤ 120",
        met: seconds <= 120,
      },
      {
        bench: "retain",
        figure: "a night in which nothing is new",
        value: again.seconds,
        unit: "s",
        goal: "≤ 30",
        met: again.seconds <= 30,
      },
      {
        bench: "retain",
        figure: `its library meanwhile, median of ${during.length} beside before (p95 ${Math.round(p95(during))} ms)`,
        value: ratio,
        unit: "×",
        goal: "≤ 3",
        met: ratio <= 3,
      },
    ];
  } finally {
    await runtime.close();
  }
}

async function looks(rig: Rig): Promise<number[]> {
  const times: number[] = [];
  for (let n = 0; n < LOOKS; n++) times.push(await lookAtLibrary(rig, ""));
  return times;
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
