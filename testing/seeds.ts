import { randomUUID } from "node:crypto";
import pg from "pg";

/**
 * Much of everything, straight into the tables: for measuring and for looking at views that are full. Nothing of it is
 * kept.
 */
export async function connect(databaseUrl: string): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  return client;
}

/** So many recordings of one member, with takes, asks, invitations, answers and comments among them. */
export async function seedRecordings(client: pg.Client, email: string, count: number): Promise<void> {
  const { rows } = await client.query<{ id: string; workspace_id: string }>(
    "select p.id, m.workspace_id from people p join members m on m.person_id = p.id where p.email = $1",
    [email],
  );
  const { id: owner, workspace_id: workspace } = rows[0]!;
  await client.query(
    `create temp table made as
       select gen_random_uuid() as id, gen_random_uuid() as take, n, replace(gen_random_uuid()::text, '-', '') as token from generate_series(1, $1::int) n`,
    [count],
  );
  await client.query(
    `insert into recordings (id, workspace_id, owner_id, title, token, audience, duration_us, created_at)
     select id, $1, $2, (array['Bedding the panes', 'How the vent closes', 'Survey of the roof', 'Moisture in the sill', 'Putty and oil'])[1 + n % 5] || ', part ' || n,
            token, case when n % 7 = 0 then 'owner' else 'anyone' end, (20 + n % 130) * 1000000, now() - n * interval '11 minutes' from made`,
    [workspace, owner],
  );
  await client.query(
    "insert into takes (id, recording_id, position, source, state, duration_us) select take, id, 1, 'screen-camera', 'complete', (20 + n % 130) * 1000000 from made",
  );
  await client.query(
    `insert into revisions (id, recording_id, number, recipe, grows) select gen_random_uuid(), id, 1, '{"version": 2, "kept": [{"from": 0, "to": null}]}', take from made`,
  );
  await client.query(
    "insert into asks (recording_id, kind, due, due_ends) select id, 'nod', current_date + (n % 20) - 10, now() + ((n % 20) - 9) * interval '1 day' from made where n % 3 = 0",
  );
  await client.query(
    "insert into guests (id, key, name) select gen_random_uuid(), decode(md5('seed' || n), 'hex'), 'Guest ' || n from generate_series(1, 40) n on conflict do nothing",
  );
  await client.query(
    "insert into invites (id, recording_id, name, key) select gen_random_uuid(), id, 'Guest ' || k, replace(gen_random_uuid()::text, '-', '') from made, generate_series(1, 3) k where n % 3 = 0",
  );
  await client.query(
    `insert into viewers (id, recording_id, number, guest_id, first_opened_at)
     select gen_random_uuid(), m.id, g.number, g.id, now() - (m.n % 20) * interval '1 day' from made m, (select id, row_number() over (order by key) - 1 as number from guests limit 40) g where g.number < 1 + m.n % 4`,
  );
  await client.query(
    "insert into comments (id, recording_id, viewer_id, body, at_us) select gen_random_uuid(), v.recording_id, v.id, 'Why here?', 3000000 from viewers v join made m on m.id = v.recording_id where m.n % 2 = 0",
  );
  await client.query(
    `insert into answers (id, recording_id, viewer_id, answer, ask_version) select gen_random_uuid(), v.recording_id, v.id, '{"kind": "nod"}', a.version from viewers v join made m on m.id = v.recording_id join asks a on a.recording_id = m.id where m.n % 3 = 0 and v.number = 0`,
  );
  await client.query(
    "insert into folds (recording_id, folded, through, watched, finished, share, strip) select id, '\\x', '0', 1 + n % 4, 1, 0.7, decode(repeat('c0', 60), 'hex') from made",
  );
  await client.query("drop table made");
  await client.query("analyze");
}

/** So many spans on one recording of `length` seconds, by so many viewers who watch as people do. */
export async function seedSpans(
  client: pg.Client,
  recordingId: string,
  count: number,
  viewers: number,
  length: number,
): Promise<void> {
  await client.query(
    "insert into guests (id, key) select gen_random_uuid(), decode(md5('spans' || n), 'hex') from generate_series(1, $1::int) n on conflict do nothing",
    [viewers],
  );
  await client.query(
    `insert into viewers (id, recording_id, number, guest_id)
     select gen_random_uuid(), $1, row_number() over (order by key) - 1, id from guests where key in (select decode(md5('spans' || n), 'hex') from generate_series(1, $2::int) n)`,
    [recordingId, viewers],
  );
  // Each viewer plays on in stretches of some seconds, now and then going back.
  await client.query(
    `insert into spans (recording_id, viewer_number, batch, n, from_us, to_us, rate)
     select $1, (i % $3)::int, $5::uuid, (i / $3)::smallint, f, least(f + (2 + i % 9) * 1000000, $4::bigint * 1000000), 1
       from (select i, (((i / $3) * 6 + (i * 7919) % 5) % greatest(1, $4 - 3)) * 1000000 + (i * 104729) % 1000 * 1000 as f from generate_series(0::bigint, $2::bigint - 1) i) s`,
    [recordingId, count, viewers, length, randomUUID()],
  );
  // As the database does by itself within a minute, for every table that was filled.
  await client.query("analyze");
}

/** So many whole takes of the newest recordings of a member, each with two tracks of so many segments. */
export async function seedSegments(client: pg.Client, email: string, takes: number, segments: number): Promise<void> {
  await client.query(
    `insert into tracks (id, take_id, name, kind, init_key, init_digest, init)
     select gen_random_uuid(), t.id, k.kind, k.kind, 'seed', '\\x', '{"type": "video", "timescale": 30, "codec": "avc1.640028"}'
       from (select t.id from takes t join recordings r on r.id = t.recording_id join people p on p.id = r.owner_id
              where p.email = $1 order by r.created_at desc limit $2) t, (values ('screen'), ('microphone')) k(kind)
     on conflict do nothing`,
    [email, takes],
  );
  await client.query(
    `insert into pieces (revision_id, track, stretch, n, track_id, first, moved_us)
     select v.id, k.name, 0, 0, k.id, 1, 0 from revisions v join tracks k on k.take_id = v.grows on conflict do nothing`,
  );
  await client.query(
    `insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key)
     select k.id, n, (n - 1) * 1800000, 1800000, 54, 80000, '\\x', 'seed' from tracks k, generate_series(1, $1::int) n
      where k.init_key = 'seed' on conflict do nothing`,
    [segments],
  );
  await client.query("analyze");
}

/**
 * Folders of a member's workspace, ten in each outermost one, each with somebody of its own and every tenth for
 * everybody; the member's recordings lie in them.
 * @returns the id of one of the inner ones
 */
export async function seedFolders(client: pg.Client, email: string, count: number): Promise<string> {
  const { rows } = await client.query<{ id: string; workspace_id: string }>(
    "select p.id, m.workspace_id from people p join members m on m.person_id = p.id where p.email = $1",
    [email],
  );
  const { id: owner, workspace_id: workspace } = rows[0]!;
  await client.query(
    `create temp table made_folders as
       select n, gen_random_uuid() as id, null::uuid as parent from generate_series(0, $1::int - 1) n`,
    [count],
  );
  await client.query(
    "update made_folders f set parent = p.id from made_folders p where p.n = f.n - f.n % 10 and f.n % 10 <> 0",
  );
  await client.query(
    `insert into folders (id, workspace_id, parent_id, path, name, colleagues, colleagues_here)
     select id, $1, parent, case when parent is null then array[id] else array[parent, id] end, 'Bay ' || n,
            case when n % 10 = 9 then 'view' end, case when n % 10 = 9 then 'view' end
       from made_folders order by n % 10 <> 0`,
    [workspace],
  );
  await client.query(
    `insert into folder_people (id, folder_id, name, person_id, may, key)
     select gen_random_uuid(), id, 'Somebody', case when n % 10 = 0 then $1::uuid end,
            case when n % 10 = 0 then 'manage' else 'view' end, replace(gen_random_uuid()::text, '-', '') from made_folders`,
    [owner],
  );
  await client.query(
    `with numbered as (select id, row_number() over (order by id) - 1 as n from recordings where workspace_id = $1)
     update recordings r set folder_id = f.id from numbered m join made_folders f on f.n = m.n % $2::int
      where r.id = m.id`,
    [workspace, count],
  );
  const { rows: inner } = await client.query<{ id: string }>("select id from made_folders where n = 1");
  await client.query("drop table made_folders");
  return inner[0]!.id;
}
