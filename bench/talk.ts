import { connect } from "../testing/seeds";
import { feed, figureOf, finish, p95, type Figure, type Rig } from "./rig";

const COMMENTS = 5_000;
const REACTIONS = 10_000;
const VIEWERS = 300;
const ROUNDS = 120;

/** Much that was said, straight into the tables, over the whole of a recording of so many seconds. */
async function seedTalk(databaseUrl: string, recordingId: string, seconds: number): Promise<void> {
  const client = await connect(databaseUrl);
  await client.query(
    `with made as (
       insert into guests (id, key, name)
       select gen_random_uuid(), decode(md5('talk' || n), 'hex'), 'Guest ' || n from generate_series(1, $1::int) n
       returning id)
     insert into viewers (id, recording_id, number, guest_id)
     select gen_random_uuid(), $2, row_number() over () + 10, id from made`,
    [VIEWERS, recordingId],
  );
  const viewers =
    "(select id, row_number() over (order by number) - 1 as place from viewers where recording_id = $1) v";
  await client.query(
    `insert into comments (id, recording_id, viewer_id, body, at_us, created_at)
     select gen_random_uuid(), $1, v.id, 'Why is pane ' || n || ' bedded so?', (n % $2::int) * 1000000::bigint,
            now() - n * interval '1 second'
       from generate_series(1, $3::int) n join ${viewers} on v.place = n % $4::int`,
    [recordingId, seconds, COMMENTS, VIEWERS],
  );
  await client.query(
    `insert into reactions (id, recording_id, viewer_id, kind, at_us, created_at)
     select gen_random_uuid(), $1, v.id, 'got-it', (n % $2::int) * 1000000::bigint, now() - n * interval '1 second'
       from generate_series(1, $3::int) n join ${viewers} on v.place = n % $4::int`,
    [recordingId, seconds, REACTIONS, VIEWERS],
  );
  await client.query("analyze comments, reactions, viewers");
  await client.end();
}

/** A page costs the same however much was said at its recording. */
export async function talk(rig: Rig): Promise<Figure[]> {
  const SECONDS = 60;
  const opened = async () => {
    const { takeId, token, recordingId } = await rig.start("screen-camera");
    const tracks = { screen: "screen", camera: "camera", microphone: "microphone" } as const;
    await finish(rig, takeId, await feed(rig, takeId, tracks, SECONDS));
    // As somebody who was there before: their page is made for them alone.
    const body = JSON.stringify({ invite: null, named: true });
    const headers = { "content-type": "application/json" };
    const visit = await fetch(`${rig.base}/w/${token}/visit`, { method: "POST", body, headers });
    const cookie = visit.headers.get("set-cookie")!.split(";")[0]!;
    return { recordingId, open: async () => (await fetch(`${rig.base}/w/${token}`, { headers: { cookie } })).text() };
  };
  const [quiet, loud] = [await opened(), await opened()];
  await seedTalk(rig.databaseUrl, loud.recordingId, SECONDS);
  // What is made of takes when they have come is over by then.
  await new Promise((next) => setTimeout(next, 8_000));
  const times: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++)
    for (const [i, { open }] of [quiet, loud].entries()) {
      const began = performance.now();
      await open();
      if (round >= 20) times[i]!.push(performance.now() - began);
    }
  const figure = figureOf("talk");
  const [none, much] = times.map(p95) as [number, number];
  return [
    figure("page of a recording with nothing said, p95", none, "ms"),
    figure(`page with ${COMMENTS} comments and ${REACTIONS} reactions, p95`, much, "ms"),
    figure("ratio", much / none, "×", "≤ 1.2", much / none <= 1.2),
  ];
}
