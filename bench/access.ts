import { AUDIENCES, may, type RecordingFacts, type Subject } from "#core/access/access";
import { connect, seedFolders, seedRecordings } from "../testing/seeds";
import { lookAtLibrary } from "./library";
import { p95, type Figure, type Rig } from "./rig";

const RECORDINGS = 100_000;
const PEOPLE = 1_000;
const FOLDERS = 10_000;
const LOOKS = 120;
const DECISIONS = 10_000;
const NAMED = 500;
const REFUSALS = 400;

/** A library of many people in one workspace: a page of it, one decision, and what a refusal tells by its time. */
export async function access(rig: Rig): Promise<Figure[]> {
  const drafts = await seed(rig);
  const times = await pages(rig);
  const decision = decide();
  const ratio = await refusals(rig, drafts);
  return [
    {
      bench: "access",
      figure: `page of ${RECORDINGS} recordings of ${PEOPLE} people in ${FOLDERS} folders, p95`,
      value: p95(times),
      unit: "ms",
      goal: "≤ 100",
      met: p95(times) <= 100,
    },
    {
      bench: "access",
      figure: `a decision in core, ${NAMED} people named`,
      value: decision,
      unit: "µs",
      goal: "≤ 100",
      met: decision <= 100,
    },
    {
      bench: "access",
      figure: "time of a refusal, a draft against nothing at all",
      value: ratio,
      unit: "×",
      goal: "0.9 to 1.1",
      met: ratio >= 0.9 && ratio <= 1.1,
    },
  ];
}

/** @returns the links of drafts */
async function seed(rig: Rig): Promise<string[]> {
  const client = await connect(rig.databaseUrl);
  // Triggers would say of each row what is said of all in the end.
  await client.query("set session_replication_role = replica");
  await seedRecordings(client, "bench@glasshouse.test", RECORDINGS);
  const { rows } = await client.query<{ id: string; workspace: string }>(
    "select p.id, m.workspace_id as workspace from people p join members m on m.person_id = p.id",
  );
  const [{ id, workspace } = { id: "", workspace: "" }] = rows;
  await client.query(
    `with made as (
       insert into people (id, name, email, password_hash)
       select gen_random_uuid(), 'Colleague ' || n, 'c' || n || '@glasshouse.test', '-' from generate_series(1, $1::int) n
       returning id)
     insert into members (workspace_id, person_id, role) select $2, id, 'member' from made`,
    [PEOPLE - 1, workspace],
  );
  // A tenth stays the own ones; of the others a third is for some people, a third for the workspace.
  await client.query(
    `with numbered as (select id, row_number() over (order by id) as n from people where id <> $1),
          mine as (select id, row_number() over (order by id) as n from recordings)
     update recordings r set owner_id = p.id,
            audience = case when r.audience = 'owner' then 'owner'
                            else (array['named', 'workspace', 'anyone'])[1 + m.n % 3] end
       from mine m join numbered p on p.n = 1 + m.n % ($2::int - 1) where r.id = m.id and m.n % 10 <> 0`,
    [id, PEOPLE],
  );
  // They lie in folders; of the others' a third is for the people of these.
  await seedFolders(client, "bench@glasshouse.test", FOLDERS);
  await client.query("update recordings set audience = 'folder' where audience = 'named'");
  await client.query("select refresh_owed(id) from recordings");
  await client.query("vacuum analyze");
  const drafts = await client.query<{ token: string }>(
    "select token from recordings where audience = 'owner' limit $1",
    [REFUSALS],
  );
  await client.end();
  return drafts.rows.map(({ token }) => token);
}

async function pages(rig: Rig): Promise<number[]> {
  const queries = ["", "?sort=oldest", "?sort=title", "?sort=longest", "?q=part+99", "?group=others", "?show=deleted"];
  for (let n = 0; n < 28; n++) await lookAtLibrary(rig, queries[n % queries.length]!);
  const times: number[] = [];
  for (let n = 0; n < LOOKS; n++) times.push(await lookAtLibrary(rig, queries[n % queries.length]!));
  return times;
}

/** @returns µs of one decision, over every audience, for those who have to be looked for longest */
function decide(): number {
  const named = Array.from({ length: NAMED }, () => crypto.randomUUID());
  const passes = Array.from({ length: 30 }, () => ({
    to: "r",
    by: "invite" as const,
    of: crypto.randomUUID(),
  }));
  const subjects: Subject[] = [
    { id: named.at(-1)!, memberships: [{ workspaceId: "w", role: "member" }] },
    { id: null, memberships: [], passes },
    null,
  ];
  const facts = AUDIENCES.map((audience): RecordingFacts => {
    const times = { deletedAt: null, opensAt: null, endsAt: null };
    const who = {
      id: "r",
      ownerId: "o",
      workspaceId: "x",
      audience,
      named: { people: new Set(named), passes: new Set(named) },
      folder: { people: new Set(named), passes: new Set(named), colleagues: false },
    };
    return { ...who, ...times, password: null, comments: true, downloads: false };
  });
  const began = performance.now();
  let allowed = 0;
  for (let n = 0; n < DECISIONS; n++) if (may(subjects[n % 3]!, "watch", facts[n % facts.length]!, 0)) allowed++;
  const each = ((performance.now() - began) * 1_000) / DECISIONS;
  if (allowed === 0) throw new Error("nobody was let in");
  return each;
}

/** @returns how long the page of a draft takes for a stranger, as a share of that of a link to nothing; in pairs */
async function refusals(rig: Rig, drafts: readonly string[]): Promise<number> {
  const time = async (token: string) => {
    const began = performance.now();
    const answer = await fetch(`${rig.base}/w/${token}`);
    await answer.arrayBuffer();
    if (answer.status !== 404) throw new Error(`a stranger was answered ${answer.status}`);
    return performance.now() - began;
  };
  const ratios: number[] = [];
  for (const [n, draft] of drafts.entries()) {
    const nothing = Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, "0")).join(
      "",
    );
    const [first, second] = n % 2 === 0 ? [draft, nothing] : [nothing, draft];
    const [a, b] = [await time(first), await time(second)];
    ratios.push(n % 2 === 0 ? a / b : b / a);
  }
  return ratios.sort((a, b) => a - b)[Math.floor(ratios.length / 2)]!;
}
