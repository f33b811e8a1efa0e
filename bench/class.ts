import { Agent, request, type IncomingHttpHeaders } from "node:http";
import { connect } from "../testing/seeds";
import { feed, figureOf, finish, p95, processorOf, type Figure, type Rig } from "./rig";

const PUPILS = 300;
/** So long it takes until the last of them has opened the link. */
const WITHIN_MS = 2_000;

interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  text: string;
  ms: number;
}

/** One browser, as far as a server sees it: connections of its own, and its cookies. */
class Browser {
  #agent = new Agent({ keepAlive: true, maxSockets: 6 });
  #cookies = new Map<string, string>();

  constructor(private readonly base: string) {}

  ask(path: string, body?: object): Promise<Answer> {
    const began = performance.now();
    const cookie = [...this.#cookies].map(([name, value]) => `${name}=${value}`).join("; ");
    const headers = {
      ...(!body && { "accept-encoding": "gzip" }),
      ...(cookie && { cookie }),
      ...(body && { "content-type": "application/json" }),
    };
    return new Promise((done, failed) => {
      const req = request(
        `${this.base}${path}`,
        { agent: this.#agent, method: body ? "POST" : "GET", headers },
        (res) => {
          let text = "";
          for (const set of res.headers["set-cookie"] ?? []) {
            const [name, value] = set.split(";")[0]!.split("=") as [string, string];
            this.#cookies.set(name, value);
          }
          res
            .setEncoding("latin1")
            .on("data", (part: string) => (text += part))
            .on("end", () =>
              done({ status: res.statusCode!, headers: res.headers, text, ms: performance.now() - began }),
            )
            .on("error", failed);
        },
      );
      req.on("error", failed).end(body && JSON.stringify(body));
    });
  }

  close() {
    this.#agent.destroy();
  }
}

/** A class of 300 opens one link at once; each is met, says a name, nods and comments. */
export async function classroom(rig: Rig): Promise<Figure[]> {
  const { takeId, token, recordingId } = await rig.start("screen-camera");
  await finish(
    rig,
    takeId,
    await feed(rig, takeId, { screen: "screen", camera: "camera", microphone: "microphone" }, 20),
  );
  const ask = { kind: "nod", question: "Clear?", choices: [], due: null, zone: "Europe/London" };
  const form = new URLSearchParams({ do: "ask", ask: JSON.stringify(ask), version: "0" });
  const asked = await fetch(`${rig.base}/recordings/${recordingId}`, {
    method: "POST",
    body: form,
    headers: { cookie: rig.cookie },
  });
  if (!asked.ok) throw new Error(`asking: ${asked.status}`);
  const path = `/w/${token}`;
  const warm = new Browser(rig.base);
  const client = await connect(rig.databaseUrl);
  const { rows } = await client.query<{ version: number }>("select version from asks where recording_id = $1", [
    recordingId,
  ]);
  await client.end();
  const { version } = rows[0]!;
  for (let n = 0; n < 20; n++) await warm.ask(path);
  warm.close();

  const times: Record<"page" | "nod" | "comment", number[]> = { page: [], nod: [], comment: [] };
  const refused: string[] = [];
  const taken = ({ status, text }: Answer, what: string) => {
    if (status !== 200) refused.push(`${what} ${status} ${text.slice(0, 200)}`);
  };
  const pupil = async (n: number) => {
    const browser = new Browser(rig.base);
    await new Promise((next) => setTimeout(next, (WITHIN_MS * n) / PUPILS));
    const page = await browser.ask(path);
    taken(page, "page");
    times.page.push(page.ms);
    taken(await browser.ask(`${path}/visit`, { invite: null, named: true }), "visit");
    taken(await browser.ask(`${path}/say`, { do: "name", name: `Pupil ${n}` }), "name");
    const nod = await browser.ask(`${path}/say`, { do: "answer", answer: { kind: "nod" }, version });
    taken(nod, "nod");
    times.nod.push(nod.ms);
    const words = {
      do: "comment",
      id: crypto.randomUUID(),
      body: `Why is pane ${n} bedded so?`,
      at: 1_000_000,
      until: null,
    };
    const comment = await browser.ask(`${path}/say`, words);
    taken(comment, "comment");
    times.comment.push(comment.ms);
    browser.close();
  };
  const before = processorOf(rig);
  const began = performance.now();
  await Promise.all(Array.from({ length: PUPILS }, (_, n) => pupil(n)));
  const all = performance.now() - began;
  const processor = processorOf(rig) - before;
  if (refused.length > 0) console.error(refused.slice(0, 5));
  const figure = figureOf("class");
  return [
    figure(
      `page, p95 of ${PUPILS} who open it within ${WITHIN_MS / 1000} s`,
      p95(times.page),
      "ms",
      "≤ 3,000",
      p95(times.page) <= 3_000,
    ),
    figure("nod, p95", p95(times.nod), "ms", "≤ 2,000", p95(times.nod) <= 2_000),
    figure("comment, p95", p95(times.comment), "ms", "≤ 2,000", p95(times.comment) <= 2_000),
    figure("refused", refused.length, "", "0", refused.length === 0),
    figure("all of it", all / 1000, "s"),
    figure("processor time of the server for each pupil", processor / PUPILS, "ms"),
  ];
}
