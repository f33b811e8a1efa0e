import { Agent, request } from "node:http";
import { feed, finish, p95, type Figure, type Rig } from "./rig";

const STREAMS = 1_000;
const ROUNDS = 5;

/** A thousand open event streams on one recording; one comment; how long until everybody has it. */
export async function events(rig: Rig): Promise<Figure[]> {
  const { takeId, token } = await rig.start("voice");
  await finish(rig, takeId, await feed(rig, takeId, { microphone: "microphone" }, 10));
  const base = `${rig.base}/w/${token}`;
  /** Somebody comes: each stream is of a viewer of its own. @returns their cookie */
  const come = async () => {
    const visit = await fetch(`${base}/visit`, {
      method: "POST",
      body: JSON.stringify({ invite: null, named: true }),
      headers: { "content-type": "application/json" },
    });
    await visit.text();
    if (!visit.ok) throw new Error(`a visit: ${visit.status}`);
    return visit.headers.get("set-cookie")!.split(";")[0]!;
  };
  const cookie = await come();
  const say = (said: object) =>
    fetch(`${base}/say`, {
      method: "POST",
      body: JSON.stringify(said),
      headers: { "content-type": "application/json", cookie },
    });
  await say({ do: "name", name: "Bench" });

  const agent = new Agent({ keepAlive: true, maxSockets: Infinity });
  let heard: number[] = [];
  let wanted = "";
  const open = async () => {
    const viewer = await come();
    return new Promise<() => void>((done, failed) => {
      const req = request(`${base}/events?after=0`, { agent, headers: { cookie: viewer } }, (res) => {
        if (res.statusCode !== 200) return failed(new Error(`a stream: ${res.statusCode}`));
        res
          .setEncoding("utf8")
          .on("data", (part: string) => wanted !== "" && part.includes(wanted) && heard.push(performance.now()));
        done(() => req.destroy());
      });
      req.on("error", (error) => (req.destroyed ? undefined : failed(error))).end();
    });
  };
  const closing: (() => void)[] = [];
  // Opened some at a time: a thousand people do not arrive in one instant.
  for (let n = 0; n < STREAMS; n += 50) closing.push(...(await Promise.all(Array.from({ length: 50 }, open))));

  const times: number[] = [];
  let missed = 0;
  for (let round = 0; round < ROUNDS; round++) {
    heard = [];
    wanted = `round ${round} of this bench`;
    const began = performance.now();
    await say({ do: "comment", body: wanted, at: 1_000_000 });
    for (let waited = 0; heard.length < STREAMS && waited < 5_000; waited += 20)
      await new Promise((next) => setTimeout(next, 20));
    missed += STREAMS - heard.length;
    times.push(...heard.map((at) => at - began));
  }
  for (const close of closing) close();
  agent.destroy();
  return [
    {
      bench: "events",
      figure: `one comment to ${STREAMS} streams, p95 over ${ROUNDS} rounds`,
      value: p95(times),
      unit: "ms",
      goal: "≤ 250",
      met: p95(times) <= 250,
    },
    {
      bench: "events",
      figure: "messages that did not arrive, or twice",
      value: Math.abs(missed),
      unit: "",
      goal: "0",
      met: missed === 0,
    },
  ];
}
