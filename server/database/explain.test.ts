import { randomUUID } from "node:crypto";
import { buffer } from "node:stream/consumers";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { NOTHING_ASKED } from "#core/answers/kinds";
import { FIRST_WISHES } from "#core/notices/wishes";
import { begun } from "#core/recipe/history";
import { Authenticator } from "../../testing/authenticator";
import { connect, seedFolders, seedRecordings, seedSegments, seedSpans } from "../../testing/seeds";
import { colleagueOf, databaseUrlOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import type { KnownRecording } from "../access/facts";
import type { Range } from "#core/time/ranges";
import type { SignedIn } from "../accounts/sessions";
import { clearEdges } from "../editing/edges";
import { makePoster } from "../jobs/make-poster";
import { sweepStorage } from "../jobs/sweep-storage";
import { SORTS } from "../recordings/library-query";
import type { Runtime } from "../runtime";

/** Tables that grow with use. Whoever reads one of them from end to end reads everybody's. */
const BIG = new Set(
  [
    "recordings old_links mails codes takes tracks segments revisions pieces entries viewers comments reactions answers invites asks",
    "events spans folds inbox guests set_ups folders folder_people folder_news notice_wishes edges publications drafts looks",
    "programs hooks deliveries feeds passkeys challenges",
  ].flatMap((names) => names.split(" ")),
);

let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;
let folderId: string;
let recording: KnownRecording;
let edited: KnownRecording;
/** the way to the database, past what listens */
let query: (sql: unknown, options?: object) => Promise<unknown[][]>;
/** statements that were asked for, with their parameters */
const asked: { sql: string; bind: unknown[] }[] = [];

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  bram = await colleagueOf(runtime, orla);
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
  await seedFolders(client, others.email, 2_000);
  folderId = await seedFolders(client, orla.email, 200);
  const other = "(select id from people where email = $1), (select workspace_id from recordings limit 1)";
  await client.query(
    `insert into programs (id, person_id, workspace_id, name, scopes, secret)
     select gen_random_uuid(), ${other}, 'P', '{read}', decode(md5(n::text), 'hex') from generate_series(1, 3000) n`,
    [others.email],
  );
  await client.query(
    `insert into hooks (id, person_id, workspace_id, url, kinds, secret)
     select gen_random_uuid(), ${other}, 'http://x.test', '{comment}', '' from generate_series(1, 3000) n`,
    [others.email],
  );
  await client.query(
    `insert into feeds (id, person_id, folder_id, key)
     select gen_random_uuid(), (select id from people where email = $1), id, decode(md5(id::text), 'hex') from folders`,
    [others.email],
  );
  await client.query("insert into deliveries (hook_id, due_at) select id, null from hooks, generate_series(1, 3) n");
  await client.query(
    `insert into passkeys (id, person_id, public_key, counter, transports, name)
     select 'k' || n, (select id from people where email = $1), '', 0, '{}', 'x' from generate_series(1, 3000) n`,
    [others.email],
  );
  await client.query(
    `insert into challenges (hash, ends_at)
     select decode(md5(n::text), 'hex'), now() + interval '1 hour' from generate_series(1, 3000) n`,
  );
  // The seeds are news to nobody.
  await client.query("delete from folder_news");
  await client.query("update inbox set due_at = null");
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
  "folders, their people, and what lies in them": async () => {
    const { folders, folderContents, folderPeople } = runtime;
    await folders.shelf(orla);
    await folders.shelf(bram);
    await folders.find(orla, "");
    await folders.find(bram, "bay");
    const folder = await folders.require(orla, "manage", folderId);
    await folders.within(folder);
    await folderPeople.list(folder);
    await folderContents.page(orla, folder, null);
    await folderContents.arrived(orla, folder);
    await folderContents.page(bram, folder, null);
    const pass = { by: "folder", to: folderId, of: randomUUID() } as const;
    await folderContents.page({ id: null, memberships: [], passes: [pass] }, folder, null);
    const recordings = [recording.id];
    await folderContents.sight(orla, { recordings, to: folderId, open: false });
    await folderContents.put(orla, { recordings, to: folderId, open: false });
    await folderContents.sightOfFolder(orla, folderId, null);
    await folders.make(orla, { name: "Gears", parentId: folderId });
    await folders.openTo(orla, folderId, "view");
    await folders.move(orla, folderId, null);
    await folderPeople.personal("made-up-key");
    await folderPeople.leave(orla.workspaceId, bram.id);
  },
  "the library, searched": () => runtime.library.page(orla, { ...kept, q: "vent", sort: "newest" }),
  "the library, deleted": () => runtime.library.page(orla, { ...kept, show: "deleted", sort: "newest" }),
  "what a link opens": async () => {
    await runtime.library.details(recording.id);
    await runtime.playback.playable(recording.id, recording.token);
    await runtime.playback.playlist(recording.id, 1, "main");
    await runtime.playback.playlist(recording.id, 1, "screen");
    await runtime.playback.file(recording.id, 1, "screen", "7.m4s");
    await runtime.comments.list(recording.id);
    const { before } = await runtime.commentPages.first(recording.id);
    await runtime.commentPages.more(recording.id, { before: before ?? `1.${recording.id}` });
    await runtime.commentPages.more(recording.id, { around: 0, revision: null });
    await runtime.commentPages.more(recording.id, { thread: recording.id });
    await runtime.commentPages.more(recording.id, { along: true });
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
    const { kept: all, dress, revision } = await runtime.editing.stretches(id);
    await runtime.editing.recorded(id);
    await runtime.playback.recorded(id);
    await runtime.playback.playlist(id, "recorded", "screen");
    await runtime.playback.file(id, "recorded", "screen", "7.m4s");
    const draft = { version: 0, seen: revision, history: begun({ kept: all, dress }) };
    await runtime.drafts.drop(id, await runtime.drafts.save(id, draft));
    await runtime.looks.of(id);
    const shown = { kept: all, dress: { suppression: { microphone: true } } as const };
    await runtime.editing.prepare(id, shown, new AbortController().signal).catch(() => undefined);
    await runtime.looks.bytes(id, 1, "strip");
    await runtime.comments.recorded(id);
    await runtime.library.written(id);
    await runtime.library.setChapters(orla, id, [], []);
    await runtime.revisions.of(id);
    await runtime.revisions.one(id, 1);
    await clearEdges(runtime.db);
  },
  "the people of a recording": () => runtime.people(recording.id, NOTHING_ASKED, Date.now()),
  "the figures of a recording": () => runtime.figures.one(recording.id, NOTHING_ASKED, Date.now()),
  "all figures": () => runtime.figures.all(orla),
  answers: () => runtime.inbox.page(orla.id, { show: "all", after: null }),
  "programs, and what they show": async () => {
    await runtime.programs.of(orla.id);
    await runtime.programs.shown(
      await runtime.programs.make(
        orla,
        { name: "P", scopes: ["read"], days: 30, current: "ridge-vent-and-putty" },
        "10.0.0.1",
      ),
    );
  },
  "everything of somebody": async () => {
    // Whoever has made nothing: what the seeds have put there are no folds.
    await buffer(await runtime.everything.of(bram));
  },
  passkeys: async () => {
    const { publicUrl } = runtime.settings;
    const passkey = new Authenticator(publicUrl);
    const options = await runtime.passkeys.beginAdding(orla, "ridge-vent-and-putty", "198.51.100.7");
    await runtime.passkeys.add(orla, passkey.register(options), "x");
    await runtime.passkeys.enter(passkey.show(await runtime.passkeys.begin()));
    await runtime.passkeys.end(orla, passkey.id);
  },
  "feeds, and what they show": async () => {
    await runtime.feeds.shown(await runtime.feeds.make(orla, folderId));
    await runtime.feeds.of(orla, await runtime.folders.require(orla, "see", folderId));
  },
  "addresses that are told": async () => {
    await runtime.hooks.make(orla, { url: "https://tasks.example.org", kinds: ["comment"] });
    await runtime.hooks.of(orla.id);
    await runtime.hooks.send(new AbortController().signal);
  },
  "the number in the bar": () => runtime.inbox.unread(orla.id),
  "what people are told, and reminded of": async () => {
    const { InboxItem, FolderNews, FolderPerson } = runtime.db.models;
    const client = { name: "Hester", email: "hester@quill.example", may: "view" as const, key: "k" };
    const person = { id: randomUUID(), folderId, personId: null, ...client };
    await FolderPerson.create(person);
    await FolderNews.create({ folderPersonId: person.id, recordingId: recording.id, at: new Date(0) });
    const item = { personId: orla.id, subject: randomUUID(), kind: "ready" as const, recordingId: recording.id };
    await InboxItem.create({ ...item, at: new Date(0), readAt: null, dueAt: new Date() });
    await runtime.wishes.save(orla, { ...FIRST_WISHES, mail: { ...FIRST_WISHES.mail, ready: "now" } });
    await runtime.teller.tell(new AbortController().signal);
    await runtime.post.carryForgotten();
    const ask = { kind: "nod" as const, question: "", choices: [], due: "2030-01-01", zone: "UTC", reminds: true };
    await runtime.asks.set(recording.id, ask);
    await runtime.invites.add(recording.id, "Ida <ida@crake.example>");
    await runtime.sharing.change(orla, recording.id, { audience: "anyone" });
    await runtime.reminders.remind(recording.id, await runtime.reminders.whom(recording.id));
    const soon = { dueEnds: new Date(Date.now() + 3_600_000) };
    await runtime.db.models.Ask.update(soon, { where: { recordingId: recording.id } });
    await runtime.reminders.remindOfWhatIsDue();
    const bearer = { by: "folder" as const, to: folderId, of: (await FolderPerson.findByPk(person.id))!.pass };
    const subject = { id: null, memberships: [], passes: [bearer] };
    await runtime.folderPeople.setNews(subject, folderId, { news: "week", zone: "UTC" });
  },
  "codes by mail": async () => {
    const { token } = recording;
    for (const behind of [{ token }, { folder: folderId }]) {
      await runtime.doors.askCode(behind, "ida@crake.example", "10.0.0.1");
      await runtime.doors.settled();
      const given = { mailAddress: "ida@crake.example", code: "000000", personId: null };
      await runtime.doors.code(behind, given, "10.0.0.1").catch(() => null);
    }
  },
  "people of a workspace": () => runtime.workspaces.people(orla),
  "a recording that is brought into another one, and what is swept": async () => {
    await runtime.bringIn.choices(orla, edited.id, "ridge");
    const { Take, Track } = runtime.db.models;
    const takes = await Take.findAll({ where: { recordingId: edited.id } });
    // The seeded ones have no bytes to begin with.
    const tracks = await Track.findAll({ where: { takeId: takes.map(({ id }) => id) } });
    for (const { initKey } of tracks) await runtime.storage.put(initKey, Buffer.from("init"));
    const to = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 4);
    const { id, workspaceId } = (await runtime.access.byId(to.recordingId))!;
    await runtime.bringIn.bring({ id, workspaceId }, { from: edited.id, version: 0, at: null });
    await sweepStorage(runtime.db, runtime.storage, Date.now() + 48 * 3600 * 1000);
    await runtime.erase(id);
  },
  "recordings that nobody uses": async () => {
    const { Recording } = runtime.db.models;
    const long = { usedAt: new Date(Date.now() - 200 * 24 * 3_600_000) };
    await Recording.update(long, { where: { id: [recording.id, edited.id] } });
    await runtime.retention.set(orla, { days: 90 });
    await runtime.retention.run(AbortSignal.timeout(10_000));
    await runtime.retention.going(orla.workspaceId);
    await runtime.retention.set(orla, { days: 0 });
  },
  "the record desk": async () => {
    await runtime.setUps.list(orla.id);
    await runtime.rooms.of(orla.workspaceId, true);
    await runtime.library.takenBefore(orla, recording.id);
    await runtime.library.noted(recording.id);
  },
};

it("nothing is compiled for a query", async () => {
  expect(await runtime.db.rows("show jit")).toEqual([{ jit: "off" }]);
});

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
