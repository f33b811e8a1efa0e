import { createHash, randomBytes, randomUUID } from "node:crypto";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { Op } from "sequelize";
import { NOTHING_ASKED, type Answer } from "../core/answers/kinds";
import type { Entry } from "../core/layout/entry";
import { USUAL_ARRANGEMENT } from "../core/layout/layout";
import { sceneOf } from "../core/layout/scene";
import { readInit, type InitInfo } from "../core/media/init";
import { splitTrack } from "../core/media/split";
import { fromSeconds, SECOND, type Micros } from "../core/time/micros";
import { hashPassword } from "../server/accounts/passwords";
import { signedIn, type SignedIn } from "../server/accounts/sessions";
import { writeAsk } from "../server/answers/asks";
import { SENDER_NUMBER } from "../server/answers/sql";
import { putEntries } from "../server/recordings/entries";
import type { DemoPerson, Runtime } from "../server/runtime";
import { courseOrigin } from "./course";
import { GUESTS, MEMBERS, PASSWORD, WORKSPACE, WORKSPACE_ID, type GuestKey, type PersonKey } from "./people";
import { FOLDERS } from "./folders";
import { AT_REST, drawPresenter } from "./presenter";
import { SCRIPTS, type Script } from "./scenario";
import { seeded, watchedBy } from "./viewing";

const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;

interface SpokenLine {
  from: Micros;
  to: Micros;
}

/** Written last: without it, what is there of the sample is half of it. */
const MILESTONE = "sample";

/**
 * Loads the sample practice into a database that has nothing in it yet: its media through the real ingest, and what
 * people did with it. What a start that was killed has left of it is taken away first. Does nothing where the sample or
 * anything else is.
 * @param media where the tracks of the sample are
 * @returns the people one can sign in as; none where the sample is not
 */
export async function loadDemo(runtime: Runtime, media: string): Promise<DemoPerson[]> {
  const [known] = await runtime.db.rows<{ others: boolean; whole: boolean }>(
    `select exists (select 1 from workspaces where id <> $1) as others,
            exists (select 1 from milestones where name = $2) as whole`,
    [WORKSPACE_ID, MILESTONE],
  );
  const { others, whole } = known!;
  if (!whole && !others) return resetDemo(runtime, media);
  return (await runtime.db.models.Workspace.findByPk(WORKSPACE_ID)) ? people() : [];
}

/**
 * Puts the sample back as it was: everything of its workspace goes, and it is loaded anew. Other workspaces are left
 * alone.
 */
export async function resetDemo(runtime: Runtime, media: string): Promise<DemoPerson[]> {
  const { db } = runtime;
  const { Milestone, Recording, Workspace } = db.models;
  await Milestone.destroy({ where: { name: MILESTONE } });
  const recordings = await Recording.findAll({ where: { workspaceId: WORKSPACE_ID }, attributes: ["id"], raw: true });
  for (const { id } of recordings) await runtime.erase(id);
  await Workspace.destroy({ where: { id: WORKSPACE_ID } });
  await db.rows(
    `delete from guests where name = any($1::text[])
        and not exists (select 1 from viewers v where v.guest_id = guests.id) returning id`,
    [Object.values(GUESTS)],
  );
  const loader = new Loader(runtime, media);
  await loader.people();
  for (const script of SCRIPTS) await loader.recording(script);
  await loader.folders();
  await loader.reading();
  await Milestone.create({ name: MILESTONE });
  return people();
}

const people = (): DemoPerson[] => MEMBERS.map(({ name, email, role }) => ({ name, email, role, password: PASSWORD }));

class Loader {
  #members = new Map<PersonKey, SignedIn>();
  #guests = new Map<PersonKey, string>();
  #recordings = new Map<string, string>();
  #random = seeded(20_261_124);

  constructor(
    private readonly runtime: Runtime,
    private readonly media: string,
  ) {}

  async people(): Promise<void> {
    const { Workspace, Person, Member } = this.runtime.db.models;
    const sites = [courseOrigin(this.runtime.settings)];
    await Workspace.create({ id: WORKSPACE_ID, name: WORKSPACE, sites, unusedDays: 365 });
    const passwordHash = await hashPassword(PASSWORD, { lane: "sign-up", one: "sample" });
    for (const { key, name, email, look, pictured } of MEMBERS) {
      // Whoever was here before the sample was put back may own something elsewhere.
      const [{ id }] = await Person.findOrCreate({
        where: { email },
        defaults: { id: randomUUID(), name, email, passwordHash },
      });
      const role = key === "orla" ? ("owner" as const) : ("member" as const);
      await Member.create({ workspaceId: WORKSPACE_ID, personId: id, role });
      if (pictured) await this.runtime.portraits.put({ id }, Buffer.from(drawPresenter(look, AT_REST)));
      const memberships = [
        { workspaceId: WORKSPACE_ID, workspaceName: WORKSPACE, role, sharesOutside: true, unusedDays: 365 },
      ];
      this.#members.set(key, signedIn({ id, name, email, portrait: null, memberships }, null));
    }
    for (const [key, name] of Object.entries(GUESTS)) this.#guests.set(key as GuestKey, await this.#guest(name));
  }

  async recording(script: Script): Promise<void> {
    const { db, takes, ingest } = this.runtime;
    const dir = join(this.media, script.slug);
    const lines = (JSON.parse(readFileSync(join(dir, "lines.json"), "utf8")) as { from: number; to: number }[]).map(
      (l): SpokenLine => ({ from: fromSeconds(l.from), to: fromSeconds(l.to) }),
    );
    const take = await takes.start(this.#members.get(script.by)!, {
      source: script.source,
      title: script.title,
      audience: script.audience ?? "anyone",
    });
    this.#recordings.set(script.slug, take.recordingId);
    const expected: Record<string, number> = {};
    let frame: InitInfo | null = null;
    for (const kind of ["screen", "camera", "microphone"] as const) {
      const file = join(dir, `${kind}.mp4`);
      if (!existsSync(file)) continue;
      const { init, segments } = splitTrack(readFileSync(file));
      await ingest.putInit(take.takeId, kind, Buffer.from(init), sha256(init));
      await Promise.all(
        segments.map((bytes, i) => ingest.putSegment(take.takeId, kind, i + 1, Buffer.from(bytes), sha256(bytes))),
      );
      expected[kind] = segments.length;
      if (kind === "screen" && script.source === "screen-camera") frame = readInit(init);
    }
    const entries = frame ? scenesOf(script, lines, frame) : [];
    if (entries.length > 0) await putEntries(db, take.takeId, entries);
    await takes.finish(take.takeId, { expected });
    const chapters = script.lines.flatMap((l, i) =>
      l.chapter ? [{ at: i === 0 ? 0 : lines[i]!.from, title: l.chapter }] : [],
    );
    const captions = script.lines.map((l, i) => ({ ...lines[i]!, text: l.say }));
    const made = Date.now() - script.daysAgo * DAY_MS - 2 * HOUR_MS;
    await db.models.Recording.update(
      { createdAt: atWork(made, Date.now()), chapters, captions },
      { where: { id: take.recordingId } },
    );
    await this.#answers(script, take.recordingId, lines, made);
  }

  /** Where the recordings lie, and for whom. */
  async folders(): Promise<void> {
    const { folders, folderContents, folderPeople } = this.runtime;
    const made = new Map<string, string>();
    for (const { name, by, within, colleagues, people, slugs } of FOLDERS) {
      const member = this.#members.get(by)!;
      const id = await folders.make(member, { name, parentId: within ? made.get(within)! : null });
      made.set(name, id);
      if (colleagues) await folders.openTo(member, id, colleagues);
      if (people) await folderPeople.add(member, id, { who: people.join(", "), may: "view" }, "::1");
      for (const slug of slugs) {
        const owner = this.#members.get(SCRIPTS.find((script) => script.slug === slug)!.by)!;
        await folderContents.put(owner, { recordings: [this.#recordings.get(slug)!], to: id, open: false });
      }
    }
  }

  /** Everybody has read what is older than two days, and nobody is mailed what the sample began with. */
  async reading(): Promise<void> {
    const { InboxItem, FolderNews } = this.runtime.db.models;
    await InboxItem.update({ dueAt: null }, { where: {} });
    await FolderNews.update({ dueAt: null }, { where: {} });
    // What lies in a folder was put there when it was made.
    await this.runtime.db.rows(
      "update inbox b set at = r.created_at from recordings r where r.id = b.recording_id and b.kind = 'folder' returning 1",
    );
    await InboxItem.update(
      { readAt: new Date() },
      {
        where: {
          kind: { [Op.ne]: "owed" },
          at: { [Op.lt]: new Date(Date.now() - 2 * DAY_MS) },
          personId: [...this.#members.values()].map((m) => m.id),
        },
      },
    );
  }

  /** Who was asked, who came, what they watched and what they said, in the hours and days after. */
  async #answers(script: Script, recordingId: string, lines: SpokenLine[], made: number): Promise<void> {
    const { db, folds } = this.runtime;
    const now = Date.now();
    const later = (share: number) => atWork(made + (now - made) * share, now);
    if (script.ask) {
      const { kind, question, choices = [], due, closed = false } = { ...NOTHING_ASKED, ...script.ask };
      const day = typeof due === "number" ? new Date(now + due * DAY_MS).toISOString().slice(0, 10) : null;
      await writeAsk(db, recordingId, { kind, question, choices, due: day, zone: "UTC" });
      if (closed) await db.models.Ask.update({ closed }, { where: { recordingId } });
    }
    const invites = new Map<PersonKey, string>();
    for (const key of script.invites ?? []) {
      const id = randomUUID();
      const member = this.#members.get(key);
      await db.models.Invite.create({
        id,
        recordingId,
        name: member?.name ?? GUESTS[key as GuestKey],
        email: member?.email ?? null,
        personId: member?.id ?? null,
        key: randomBytes(12).toString("base64url"),
        createdAt: later(0.01),
      });
      invites.set(key, id);
    }

    const length = (await db.models.Recording.findByPk(recordingId, { attributes: ["durationUs"] }))!.durationUs;
    const hard = script.hard ? { from: lines[script.hard[0]]!.from, to: lines[script.hard[1]]!.to } : null;
    const viewers = new Map<PersonKey, string>();
    const unnamed: string[] = [];
    let number = 0;
    const come = async (
      who: PersonKey | "unnamed" | "not-named",
      share: number,
    ): Promise<{ id: string; number: number }> => {
      const member = this.#members.get(who as PersonKey);
      const viewer = { id: randomUUID(), number: who === script.by ? SENDER_NUMBER : number++ };
      const guest = member ? null : (this.#guests.get(who as PersonKey) ?? (await this.#guest(null)));
      await db.models.Viewer.create({
        ...viewer,
        recordingId,
        personId: member?.id ?? null,
        guestId: guest,
        inviteId: invites.get(who as PersonKey) ?? null,
        named: who !== "not-named",
        firstOpenedAt: later(share),
        lastOpenedAt: later(Math.min(0.98, share + 0.1)),
      });
      if (who === "unnamed") unnamed.push(viewer.id);
      else if (who !== "not-named") viewers.set(who, viewer.id);
      return viewer;
    };
    for (const { who, habit, times = 1 } of script.viewers ?? []) {
      for (let n = 0; n < times; n++) {
        const share = 0.03 + this.#random() * 0.75;
        const viewer = await come(who, share);
        await db.models.Span.bulkCreate(
          watchedBy(habit, length, hard, this.#random).map(({ from, to, rate }, n) => ({
            recordingId,
            viewerNumber: viewer.number,
            batch: randomUUID(),
            n,
            fromUs: from,
            toUs: to,
            rate,
            playedAt: later(share),
          })),
        );
      }
    }
    /** Whoever says something has come. */
    const viewerOf = async (who: PersonKey): Promise<string> => viewers.get(who) ?? (await come(who, 0.2)).id;

    const momentOf = (line: number, plus = 0) => Math.min(length, lines[line]!.from + Math.round(plus * SECOND));
    let share = 0.15;
    for (const c of script.comments ?? []) {
      const id = randomUUID();
      const write = async (by: PersonKey, words: string, replyTo: string | null, settled: boolean) => {
        share = Math.min(0.97, share + 0.05);
        await db.models.Comment.create({
          id: replyTo ? randomUUID() : id,
          recordingId,
          viewerId: await viewerOf(by),
          replyTo,
          body: words,
          atUs: momentOf(c.line, c.plus),
          untilUs: replyTo || c.until === undefined ? null : lines[c.until]!.to,
          createdAt: later(share),
          resolvedAt: settled ? later(0.98) : null,
        });
      };
      await write(c.by, c.words, null, c.settled === true);
      for (const reply of c.replies ?? []) await write(reply.by, reply.words, id, false);
    }
    for (const [i, r] of (script.reactions ?? []).entries()) {
      const viewer = r.by === "someone" ? unnamed[i % Math.max(1, unnamed.length)] : await viewerOf(r.by);
      if (viewer)
        await db.models.Reaction.create({
          id: randomUUID(),
          recordingId,
          viewerId: viewer,
          kind: r.kind,
          atUs: momentOf(r.line, r.plus),
          createdAt: later(0.3 + 0.05 * i),
        });
    }
    for (const [i, a] of (script.answers ?? []).entries()) {
      const answer: Answer =
        a.kind === "not-clear"
          ? { kind: a.kind, at: momentOf(a.line ?? 0, 2), words: a.words ?? "" }
          : a.kind === "choice"
            ? { kind: a.kind, choice: a.choice ?? 0 }
            : a.kind === "words"
              ? { kind: a.kind, words: a.words ?? "" }
              : { kind: a.kind };
      await db.models.Answer.create({
        id: randomUUID(),
        recordingId,
        viewerId: await viewerOf(a.by),
        answer,
        askVersion: (await db.models.Ask.findByPk(recordingId))!.version,
        answeredAt: later(0.35 + 0.12 * i),
      });
    }
    await folds.keep(recordingId);
  }

  async #guest(name: string | null): Promise<string> {
    const id = randomUUID();
    await this.runtime.db.models.Guest.create({ id, key: randomBytes(32), name });
    return id;
  }
}

/** A moment moved into the working day, in order, and never into the future. */
function atWork(ms: number, now: number): Date {
  const at = new Date(ms);
  const minutes = at.getHours() * 60 + at.getMinutes();
  at.setHours(8, Math.round((minutes * 10) / 24), at.getSeconds());
  return at.getTime() < now ? at : new Date(ms);
}

/** The camera picture over a screen of this shape, as the script moves it. */
function scenesOf(script: Script, lines: SpokenLine[], frame: { width: number; height: number }): Entry[] {
  let arrangement = USUAL_ARRANGEMENT;
  const scene = (at: Micros): Entry => ({
    id: randomUUID(),
    version: 1,
    kind: "scene",
    at,
    body: sceneOf(frame, arrangement),
  });
  const entries = [scene(0)];
  for (const [i, l] of script.lines.entries()) {
    if (!l.arrange) continue;
    arrangement = { ...arrangement, ...l.arrange };
    entries.push(scene(lines[i]!.from));
  }
  return entries;
}

const sha256 = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest();
