import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { NOTHING_ASKED } from "#core/answers/kinds";
import { begun } from "#core/recipe/history";
import { connect, seedRecordings, seedSegments, seedSpans } from "../../testing/seeds";
import { databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import type { KnownRecording } from "../access/facts";
import type { Range } from "#core/time/ranges";
import type { SignedIn } from "../accounts/sessions";
import { clearEdges } from "../editing/edges";
import { makePoster } from "../jobs/make-poster";
import { SORTS } from "../recordings/library-query";
import type { Runtime } from "../runtime";

/** Tables that grow with use. Whoever reads one of them from end to end reads everybody's. */
const BIG = new Set(
  [
    "recordings takes tracks segments revisions pieces entries viewers comments reactions answers invites asks",
    "events spans folds inbox guests set_ups edges publications drafts looks",
  ].flatMap((names) => names.split(" ")),
);

let runtime: Runtime;
let orla: SignedIn;
let recording: KnownRecording;
let edited: KnownRecording;
/** the way to the database, past what listens */
let query: (sql: unknown, options?: object) => Promise<unknown[][]>;
/** statements that were asked for, with their parameters */
const asked: { sql: string; bind: unknown[] }[] = [];

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  const others = await newMember(runtime, "Somebody Else");
  const client = await connect(databaseUrlOf(runtime));
  await seedRecordings(client, others.email, 2_000);
  await seedRecordings(client, orla.email, 200);
  await seedSegments(client, others.email, 60, 400);
  await seedSegments(client, orla.email, 2, 400);
  const page = await runtime.library.page(orla, { q: "", sort: "newest", show: "kept", group: null, after: null });
  recording = (await runtime.access.byId(page.rows[1]!.id))!;
  edited = (await runtime.access.byId(page.rows[0]!.id))!;
  const watched = await runtime.takes.start(others, { source: "voice", title: "Watched a lot", audience: "anyone" });
  await seedSpans(client, watched.recordingId, 20_000, 400, 60);
  await client.query(
    "insert into events (recording_id, kind) select id, 'comment' from recordings, generate_series(1, 3)",
  );
  await client.query(
    `insert into reactions (id, recording_id, viewer_id, kind, at_us)
     select gen_random_uuid(), recording_id, id, 'got-it', 1 from viewers`,
  );
  // What the seeds put there is for looking at lists, and is no fold.
  await client.query("delete from folds where recording_id = $1", [recording.id]);
  await client.query("analyze");
  await client.end();
  // Everything goes through here, from models as well.
  const { sequelize } = runtime.db;
  query = sequelize.query.bind(sequelize) as typeof query;
  sequelize.query = ((said: string | { query: string; bind?: unknown[] }, options?: { bind?: unknown[] }) => {
    const sql = typeof said === "string" ? said : said.query;
    const bind = (typeof said === "string" ? options?.bind : said.bind) ?? options?.bind ?? [];
    if (/^\s*(select|with|insert|update|delete)\b/i.test(sql)) asked.push({ sql, bind });
    return query(said, options);
  }) as typeof sequelize.query;
}, 120_000);
afterAll(() => runtime.close());

const kept = { q: "", show: "kept" as const, group: null, after: null };
const VIEWS: Record<string, () => Promise<unknown>> = {
  "the library": () => runtime.library.groups(orla, { q: "", sort: "newest" }),
  ...Object.fromEntries(
    SORTS.map((sort) => [`the library, ${sort}`, () => runtime.library.page(orla, { ...kept, sort })]),
  ),
  "the library, searched": () => runtime.library.page(orla, { ...kept, q: "vent", sort: "newest" }),
  "the library, deleted": () => runtime.library.page(orla, { ...kept, show: "deleted", sort: "newest" }),
  "what a link opens": async () => {
    await runtime.library.details(recording.id);
    await runtime.playback.playable(recording.id, recording.token);
    await runtime.playback.playlist(recording.id, 1, "main");
    await runtime.playback.playlist(recording.id, 1, "screen");
    await runtime.playback.file(recording.id, 1, "screen", "7.m4s");
    await runtime.comments.list(recording.id);
    await runtime.reactions.list(recording.id);
    await runtime.asks.of(recording.id);
    await runtime.events.newest(recording.id);
  },
  "another take, and one that is thrown away": async () => {
    const { takeId } = await runtime.takes.another(recording.id, "screen-camera");
    await runtime.takes.state(takeId);
    await runtime.takes.stored(takeId);
    await runtime.takes.discard(takeId);
  },
  "an edit that is asked for, made, and shown by its poster": async () => {
    const { kept: all, revision } = await runtime.editing.stretches(edited.id);
    const [{ from, to }] = all as [Range];
    await runtime.editing.ask(edited.id, { kept: [{ from: from + 1_000_000, to }], seen: revision });
    await runtime.editing.state(edited.id);
    // The seeded segments have no bytes: it fails after everything was looked up.
    await runtime.editing.run(edited.id, new AbortController().signal);
    await makePoster(runtime.db, runtime.storage, edited.id, new AbortController().signal).catch(() => undefined);
  },
  "the edit page": async () => {
    const { id } = edited;
    const { kept: all, gains, revision } = await runtime.editing.stretches(id);
    await runtime.editing.recorded(id);
    await runtime.playback.recorded(id);
    await runtime.playback.playlist(id, "recorded", "screen");
    await runtime.playback.file(id, "recorded", "screen", "7.m4s");
    const draft = { version: 0, seen: revision, history: begun({ kept: all, gains }) };
    await runtime.drafts.drop(id, await runtime.drafts.save(id, draft));
    await runtime.looks.of(id);
    await runtime.looks.bytes(id, 1, "strip");
    await runtime.comments.recorded(id);
    await runtime.library.written(id);
    await runtime.library.setChapters(orla, id, [], []);
    await clearEdges(runtime.db);
  },
  "the people of a recording": () => runtime.people(recording.id, NOTHING_ASKED, Date.now()),
  "the figures of a recording": () => runtime.figures.one(recording.id, NOTHING_ASKED, Date.now()),
  "all figures": () => runtime.figures.all(orla),
  answers: () => runtime.inbox.page(orla.id, { show: "all", after: null }),
  "the number in the bar": () => runtime.inbox.unread(orla.id),
  "people of a workspace": () => runtime.workspaces.people(orla),
  "the record desk": async () => {
    await runtime.setUps.list(orla.id);
    await runtime.rooms.of(orla.workspaceId, true);
    await runtime.library.takenBefore(orla, recording.id);
    await runtime.library.noted(recording.id);
  },
};

it.each(Object.keys(VIEWS))("%s: no table is read from end to end", async (view) => {
  asked.length = 0;
  await VIEWS[view]!();
  expect(asked.length).toBeGreaterThan(0);
  for (const { sql, bind } of [...asked]) {
    expect(scansOf(await planOf(sql, bind)), sql).toEqual([]);
  }
});

/**
 * Of a table of some pages the planner reads all, whatever indexes there are. Told that this is dear, it shows whether
 * there is another way.
 */
function planOf(sql: string, bind: unknown[]): Promise<Plan> {
  const { sequelize } = runtime.db;
  return sequelize.transaction(async (transaction) => {
    await query("set local enable_seqscan = off", { transaction });
    const [[row]] = (await query(`explain (format json) ${sql}`, { bind, transaction })) as [[unknown]];
    return (row as { "QUERY PLAN": [{ Plan: Plan }] })["QUERY PLAN"][0].Plan;
  });
}

interface Plan {
  "Node Type": string;
  "Relation Name"?: string;
  Plans?: Plan[];
}

function scansOf(plan: Plan): string[] {
  const own = plan["Node Type"] === "Seq Scan" && BIG.has(plan["Relation Name"]!) ? [plan["Relation Name"]!] : [];
  return [...own, ...(plan.Plans ?? []).flatMap(scansOf)];
}
