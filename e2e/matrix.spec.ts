import {
  AUDIENCES,
  doorOf,
  may,
  type Audience,
  type Deed,
  type RecordingFacts,
  type Subject,
} from "../core/access/access";
import { FOLDER_RIGHTS, type FolderRight } from "../core/access/folders";
import { expect, test } from "./test";
import { Asker, type Answer } from "./asker";
import { databaseOf } from "./database";
import { sharedTake, signUp } from "./steps";

const NOW = Date.now();
const HOUR = 3_600_000;
/** What a recording can be besides its audience, as it is asked for, and as `core/access` has it. */
const STATES: Record<string, { form: Record<string, string>; facts: Partial<RecordingFacts> }> = {
  open: { form: {}, facts: {} },
  "with a password": { form: { password: "third bay" }, facts: { password: "now" } },
  "not yet": { form: { opensAt: new Date(NOW + HOUR).toISOString() }, facts: { opensAt: NOW + HOUR } },
  over: { form: { endsAt: new Date(NOW - HOUR).toISOString() }, facts: { endsAt: NOW - HOUR } },
  "without comments": { form: { comments: "false" }, facts: { comments: false } },
  "with downloads": { form: { downloads: "true" }, facts: { downloads: true } },
  deleted: { form: {}, facts: { deletedAt: NOW } },
};
const AS_NEW = { password: "", opensAt: "", endsAt: "", comments: "true", downloads: "false", asksNames: "false" };

interface Place {
  token: string;
  id: string;
  takeId: string;
}
/** A door of the server: who may pass it is a deed of the table. */
interface Route {
  name: string;
  deed: Deed;
  /** whoever asks is nobody there */
  nobody?: true;
  /** the same loaders as another door, drawn as a page, which takes many times as long: asked in these states alone */
  drawn?: true;
  ask: (as: Asker, at: Place) => Promise<Answer>;
}
/** One in which most may watch, one that asks for something, and one that is gone. */
const DRAWN_IN = new Set(["open", "with a password", "deleted"]);
/** When a recording is open is asked apart from who may: by these each door shows that it asks for both. */
const ALL_STATES: readonly Audience[] = ["anyone", "named"];
const uuid = () => crypto.randomUUID();
const data = (body: object) => ({ data: body, headers: { "content-type": "application/json" } });
const once = { maxRedirects: 0 } as const;
const OURS = `http://localhost:${process.env.TEST_PORT ?? 5191}`;
const ROUTES: Route[] = [
  { name: "the page", deed: "watch", drawn: true, ask: (as, { token }) => as.get(`/w/${token}`, once) },
  { name: "its data", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}.data`, once) },
  { name: "a playlist", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}/r1/main.m3u8`) },
  { name: "an init", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}/r1/screen/init.mp4`) },
  { name: "a segment", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}/r1/screen/1.m4s`) },
  { name: "the file", deed: "download", ask: (as, { token }) => as.get(`/w/${token}/film`) },
  { name: "where moments are", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}/place?revision=1&at=0`) },
  {
    name: "a visit",
    deed: "answer",
    ask: (as, { token }) => as.post(`/w/${token}/visit`, data({ invite: null, named: true })),
  },
  {
    name: "a reaction",
    deed: "answer",
    ask: (as, { token }) => as.post(`/w/${token}/say`, data({ do: "react", kind: "got-it", at: 0, revision: 1 })),
  },
  {
    name: "a comment",
    deed: "comment",
    ask: (as, { token }) =>
      as.post(`/w/${token}/say`, data({ do: "comment", id: uuid(), body: "a", at: 0, until: null, revision: 1 })),
  },
  { name: "more comments", deed: "watch", ask: (as, { token }) => as.get(`/w/${token}/comments?along=yes`) },
  {
    name: "what was watched",
    deed: "answer",
    ask: (as, { token }) =>
      as.post(`/w/${token}/spans`, data({ batch: uuid(), spans: [{ from: 0, to: 1e6, rate: 1 }] })),
  },
  // In an embed nobody is known, and a page that wants to show a link asks for everybody.
  { name: "an embed", deed: "watch", nobody: true, drawn: true, ask: (as, { token }) => as.get(`/e/${token}`, once) },
  { name: "an embed's data", deed: "watch", nobody: true, ask: (as, { token }) => as.get(`/e/${token}.data`, once) },
  {
    name: "a visit in an embed",
    deed: "answer",
    nobody: true,
    ask: (as, { token }) => as.post(`/e/${token}/visit`, data({ invite: null, named: true })),
  },
  {
    name: "a reaction in an embed",
    deed: "answer",
    nobody: true,
    ask: (as, { token }) => as.post(`/e/${token}/say`, data({ do: "react", kind: "got-it", at: 0, revision: 1 })),
  },
  {
    name: "what pages are told of a link",
    deed: "watch",
    nobody: true,
    ask: (as, { token }) => as.get("/oembed", { params: { url: `${OURS}/w/${token}` } }),
  },
  { name: "the people", deed: "figures", ask: (as, { id }) => as.get(`/recordings/${id}/people`) },
  { name: "the figures", deed: "figures", drawn: true, ask: (as, { id }) => as.get(`/figures/${id}`, once) },
  { name: "their data", deed: "figures", ask: (as, { id }) => as.get(`/figures/${id}.data`, once) },
  { name: "statements", deed: "figures", ask: (as, { id }) => as.get(`/figures/${id}/statements.json`, once) },
  { name: "the edit page", deed: "change", drawn: true, ask: (as, { id }) => as.get(`/recordings/${id}/edit`, once) },
  { name: "its own data", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/edit.data`, once) },
  { name: "revisions", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/revisions`) },
  { name: "what was recorded", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/recorded/main.m3u8`) },
  { name: "where its file stands", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/film`) },
  { name: "looks", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/looks`) },
  { name: "the glance before", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/glance`) },
  { name: "its outside places", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/sendings`) },
  { name: "what is cut", deed: "change", ask: (as, { id }) => as.get(`/recordings/${id}/cuts`) },
  {
    name: "a description",
    deed: "change",
    ask: (as, { id }) => {
      const before = JSON.stringify({ description: "", tags: [] });
      return as.post(`/recordings/${id}`, { form: { do: "describe", description: "", tags: "[]", before } });
    },
  },
  {
    name: "who may comment",
    deed: "change",
    ask: (as, { id }) => as.post(`/recordings/${id}`, { form: { do: "share", asksNames: "false" } }),
  },
  {
    name: "whom it is mailed to",
    deed: "figures",
    ask: (as, { id }) => as.post(`/recordings/${id}`, { form: { do: "invite", who: "Maud Thorne" } }),
  },
  { name: "a take", deed: "feed", ask: (as, { takeId }) => as.get(`/ingest/${takeId}`) },
];

/** As it was said, without what is different in every answer, and what the asker has written into the address. */
const plain = (text: string, { token, id, takeId }: Place) =>
  [token, id, takeId]
    .reduce((kept, secret) => kept.replaceAll(secret, "*"), text)
    .replace(/nonce="[^"]*"/g, "nonce")
    .replace(/"nonce\\?",\\?"[^"\\]+/g, "nonce")
    .replace(/[\w+/]{22}==/g, "nonce");

/** Is it a refusal? A page that is gone, or a comment that is not taken, says so to those who are let in. */
const refused = (answer: Answer) =>
  [302, 401, 403, 404, 410].includes(answer.status) ||
  // The data of a page that leads elsewhere says so in what it holds.
  (answer.status === 202 && new URL(answer.url).pathname.endsWith(".data"));

test("every door lets through whom the table says, and tells nobody else that there is anything", async ({
  page,
  dataDir,
}, { project }) => {
  test.setTimeout(900_000);
  const database = await databaseOf(dataDir);
  const rows = async <T>(sql: string, bind: unknown[]) => (await database.query(sql, bind)).rows as T[];
  const personOf = async (email: string) =>
    (await rows<{ id: string }>("select id from people where email = $1", [email]))[0]!.id;
  const ownersEmail = await signUp(page);
  const { link, recordingId: id } = await sharedTake(page, 4);
  const base = project.use.baseURL!;
  const owner = new Asker(base, await page.context().cookies());
  const token = link.split("/w/")[1]!;
  const [take] = await rows<{ id: string }>("select id from takes where recording_id = $1", [id]);
  const there: Place = { token, id, takeId: take!.id };
  const nowhere: Place = { token: "A".repeat(22), id: uuid(), takeId: uuid() };
  const post = async (path: string, form: Record<string, string>) => {
    const answer = await owner.post(path, { form, ...once });
    expect(answer.status, `${path} ${JSON.stringify(form)}`).toBeLessThan(400);
  };
  const change = (form: Record<string, string>) => post(`/recordings/${id}`, form);

  // It is there as a file: so whoever may have it finds it.
  await post(`/recordings/${id}/film`, { do: "make" });
  await expect.poll(async () => (await owner.get(`/w/${token}/film`)).status, { timeout: 60_000 }).toBe(200);

  const fresh = () => new Asker(base);
  const signedUp = async (join = "") => {
    const as = fresh();
    const email = `m${uuid()}@glasshouse.test`;
    const form = { name: "Ida Crake", workspace: "Crake", email, password: "ridge-vent-and-putty" };
    expect((await as.post(`/sign-up${join}`, { form, ...once })).status).toBe(302);
    return { as, email, id: await personOf(email) };
  };
  await post("/workspace", { do: "link", role: "member", days: "1" });
  const ownerId = await personOf(ownersEmail);
  const [joining] = await rows<{ token: string; workspace: string }>(
    "select token, workspace_id as workspace from join_links where made_by = $1",
    [ownerId],
  );
  const colleague = await signedUp(`?join=${joining!.token}`);
  const removed = await signedUp(`?join=${joining!.token}`);
  await post("/workspace", { do: "remove", person: removed.id, heir: ownerId });
  const other = await signedUp();
  const known = await signedUp();
  await change({ do: "invite", who: "Hester Quill, Odo Marsh" });
  const invites = await rows<{ id: string; key: string }>(
    "select id, key from invites where recording_id = $1 order by name",
    [id],
  );
  // Odo has proved by a code that the account is his; Hester has her personal link.
  await database.query("update invites set person_id = $1 where id = $2", [known.id, invites[1]!.id]);
  const bearer = fresh();
  expect((await bearer.get(`/for/${invites[0]!.key}`, once)).status).toBe(302);
  const knows = fresh();
  const bearerKnows = fresh();
  await bearerKnows.get(`/for/${invites[0]!.key}`, once);

  // It lies in a folder, in another one to which these belong.
  const inside = await signedUp(`?join=${joining!.token}`);
  const client = await signedUp();
  const makeFolder = async (name: string, within: string) => {
    const answer = await owner.post("/folders", { form: { do: "make", name, in: within }, ...once });
    expect(answer.status).toBeLessThan(400);
    const [made] = await rows<{ id: string }>("select id from folders where workspace_id = $1 and name = $2", [
      joining!.workspace,
      name,
    ]);
    return made!.id;
  };
  const outer = await makeFolder("Roof", "");
  const inner = await makeFolder("Vents", outer);
  await post(`/f/${outer}`, { do: "add-people", who: `${inside.email}, Maud Thorne, Client Crake`, may: "view" });
  await post("/folders", { do: "put", recordings: JSON.stringify([id]), to: inner });
  const named = "where folder_id = $1 and name = $2";
  await database.query(`update folder_people set person_id = $3 ${named}`, [outer, "Client Crake", client.id]);
  const folderBearer = fresh();
  const [maud] = await rows<{ key: string }>(`select key from folder_people ${named}`, [outer, "Maud Thorne"]);
  expect((await folderBearer.get(`/for/${maud!.key}`, once)).status).toBe(302);

  const memberships = [{ workspaceId: "w", role: "member" as const }];
  const elsewhere = [{ workspaceId: "x", role: "owner" as const }];
  const key = { to: "r", by: "invite", of: "key" } as const;
  const ofFolder = { to: "f", by: "folder", of: "of" } as const;
  const word = { to: "r", by: "password", of: "now" } as const;
  const people: Record<string, { as: Asker; subject: Subject }> = {
    owner: { as: owner, subject: { id: "owner", memberships } },
    colleague: { as: colleague.as, subject: { id: "colleague", memberships } },
    "somebody who was removed": { as: removed.as, subject: { id: "removed", memberships: elsewhere } },
    "somebody of another workspace": { as: other.as, subject: { id: "other", memberships: elsewhere } },
    "somebody who is named": { as: known.as, subject: { id: "known", memberships: elsewhere } },
    "a colleague in its folder": { as: inside.as, subject: { id: "inside", memberships } },
    "a client in its folder": { as: client.as, subject: { id: "client", memberships: elsewhere } },
    "a bearer of a link to its folder": {
      as: folderBearer,
      subject: { id: null, memberships: [], passes: [ofFolder] },
    },
    "a bearer of a personal link": { as: bearer, subject: { id: null, memberships: [], passes: [key] } },
    "a bearer who knows the password": { as: bearerKnows, subject: { id: null, memberships: [], passes: [key, word] } },
    "a guest who knows the password": { as: knows, subject: { id: null, memberships: [], passes: [word] } },
    "a stranger": { as: fresh(), subject: null },
  };

  // What is new in the folder was read: so the number in the bar is the same on every page, who may see what by now.
  const readAll = () => database.query("update inbox set read_at = now(), due_at = null where recording_id = $1", [id]);
  await readAll();
  // What is said where there is nothing at all, to each of them, by each door.
  const ofNothing = new Map<string, { status: number; text: string }>();
  for (const [who, { as }] of Object.entries(people))
    for (const { name, ask } of ROUTES) {
      const answer = await ask(as, nowhere);
      expect(refused(answer), `${who}, ${name}, where there is nothing: ${answer.status}`).toBe(true);
      ofNothing.set(`${who} ${name}`, { status: answer.status, text: plain(answer.text, nowhere) });
    }

  const wrong: string[] = [];
  let asked = 0;
  const look = async (audience: Audience, state: string) => {
    const facts: RecordingFacts = {
      ...{ id: "r", ownerId: "owner", workspaceId: "w", audience, deletedAt: null, opensAt: null, endsAt: null },
      ...{ password: null, comments: true, downloads: false },
      named: { people: new Set(["known"]), passes: new Set(["key"]) },
      folder: { people: new Set(["inside", "client"]), passes: new Set(["of"]), colleagues: false },
      ...STATES[state]!.facts,
    };
    await readAll();
    const doors = ROUTES.filter(({ drawn }) => !drawn || DRAWN_IN.has(state));
    // Each of them asks one thing after the other, and some of them at once, as people do.
    const one = async ([who, { as, subject: known }]: [string, (typeof people)[string]]) => {
      for (const { name, deed, nobody, ask } of doors) {
        const subject = nobody ? null : known;
        const answer = await ask(as, there);
        const expected = may(subject, deed, facts, Date.now());
        const where = `${who}, ${name}, for ${audience}, ${state}`;
        asked++;
        if (expected === refused(answer)) wrong.push(`${where}: ${answer.status}`);
        if (expected || !refused(answer)) continue;
        // Who is let in is told why the page is closed, and that comments are not taken; nobody else is told anything.
        const told =
          (deed === "watch" &&
            /^(the page|its data|an embed|an embed's data)$/.test(name) &&
            doorOf(subject, facts, Date.now()) !== "nothing") ||
          (deed === "comment" && may(subject, "answer", facts, Date.now()));
        const none = ofNothing.get(`${who} ${name}`)!;
        if (!told && (answer.status !== none.status || plain(answer.text, there) !== none.text))
          wrong.push(`${where}: its refusal is not that of nothing`);
      }
    };
    const waiting = Object.entries(people);
    await Promise.all(
      Array.from({ length: 3 }, async () => {
        for (let next = waiting.shift(); next; next = waiting.shift()) await one(next);
      }),
    );
  };
  for (const audience of AUDIENCES)
    for (const [state, { form }] of Object.entries(STATES)) {
      if (state !== "open" && state !== "with a password" && !ALL_STATES.includes(audience)) continue;
      await change({ do: "share", ...AS_NEW, audience: "anyone", ...form });
      if (form.password)
        for (const as of [knows, bearerKnows]) {
          const shown = await as.post(`/w/${token}/enter`, { form: { do: "password", password: form.password } });
          expect(shown.status).toBe(200);
        }
      await change({ do: "share", audience });
      if (state === "deleted") await change({ do: "delete" });
      await look(audience, state);
      if (state === "deleted") await change({ do: "restore" });
    }
  expect(wrong.slice(0, 20), `${wrong.length} of ${asked}`).toEqual([]);
  // The doors of a folder: who may pass is the second table.
  const inFolder: Record<string, FolderRight | null> = {
    owner: "manage",
    "a colleague in its folder": "view",
    "a client in its folder": "view",
    "a bearer of a link to its folder": "view",
  };
  const needs: [string, FolderRight, (as: Asker, folder: string) => Promise<Answer>][] = [
    ["the page", "view", (as, folder) => as.get(`/f/${folder}`, once)],
    ["its data", "view", (as, folder) => as.get(`/f/${folder}.data`, once)],
    ["a folder in it", "add", (as, folder) => as.post("/folders", { form: { do: "make", name: uuid(), in: folder } })],
    ["its name", "manage", (as, folder) => as.post(`/f/${folder}`, { form: { do: "rename", name: "Vents" } })],
    [
      "its people",
      "manage",
      (as, folder) => as.post(`/f/${folder}`, { form: { do: "add-people", who: "A", may: "view" } }),
    ],
    ["where it lies", "manage", (as, folder) => as.get(`/folders/sight?folder=${folder}&to=`)],
    ["its openness", "manage", (as, folder) => as.post(`/f/${folder}`, { form: { do: "colleagues", colleagues: "" } })],
  ];
  for (const [who, { as }] of Object.entries(people))
    for (const [name, right, ask] of needs) {
      const is = inFolder[who];
      const expected = is ? FOLDER_RIGHTS.indexOf(is) >= FOLDER_RIGHTS.indexOf(right) : false;
      const [answer, none] = [await ask(as, inner), await ask(as, uuid())];
      expect(refused(answer), `${who}, ${name}: ${answer.status}`).toBe(!expected);
      // Who sees the folder is answered with its page.
      if (is) continue;
      const said = ({ text }: Answer) => text.replace(/[\da-f]{8}-[\da-f-]{27}/g, "*");
      const nothing = { token: "-".repeat(22), id: uuid(), takeId: uuid() };
      expect([answer.status, plain(said(answer), nothing)], `${who}, ${name}`).toEqual([
        none.status,
        plain(said(none), nothing),
      ]);
    }
  const states = Object.keys(STATES).length;
  const drawn = ROUTES.filter((route) => route.drawn).length;
  const doors = states * (ROUTES.length - drawn) + DRAWN_IN.size * drawn;
  const some = 2 * ROUTES.length;
  const audiences = ALL_STATES.length * doors + (AUDIENCES.length - ALL_STATES.length) * some;
  expect(asked).toBe(Object.keys(people).length * audiences);
  await database.end();
});
