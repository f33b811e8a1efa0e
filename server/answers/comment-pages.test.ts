import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { codeOf, freshRuntime, newMember } from "../../testing/server";
import type { KnownRecording } from "../access/facts";
import type { Runtime } from "../runtime";
import { askedCommentsForm, type Along, type CommentPage, type SomeComments } from "./comment-pages";

const S = 1_000_000;
let runtime: Runtime;
let recording: KnownRecording;
let ida: Browser;

/** Threads at moments, and replies, written one a second from a moment long ago on. */
async function write(rows: { id?: string; replyTo?: string; at: number; n: number }[]) {
  const viewer = await runtime.viewers.find(recording, ida.who);
  await runtime.db.rows(
    `insert into comments (id, recording_id, viewer_id, reply_to, body, at_us, created_at)
     select n.id, $1, $2, n.under, 'Words ' || n.n, n.at, '2031-01-01'::timestamptz + n.n * interval '1 second'
       from unnest($3::uuid[], $4::uuid[], $5::bigint[], $6::int[]) as n(id, under, at, n)
      order by n.under nulls first returning id`,
    [
      recording.id,
      viewer!.id,
      rows.map(({ id = randomUUID() }) => id),
      rows.map(({ replyTo = null }) => replyTo),
      rows.map(({ at }) => at),
      rows.map(({ n }) => n),
    ],
  );
}

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  recording = await sharedRecording(runtime, await newMember(runtime));
  ida = await new Browser(runtime, recording).as("Ida");
});
afterAll(() => runtime.close());

describe("comments by pages", () => {
  const first = randomUUID();

  it("are the newest first, each once, with what begins their threads", async () => {
    await write([{ id: first, at: 5 * S, n: 0 }]);
    await write(Array.from({ length: 240 }, (_, n) => ({ at: (n % 5) * S, n: n + 1 })));
    await write([{ replyTo: first, at: 5 * S, n: 300 }]);
    const { comments, before, threads } = await runtime.commentPages.first(recording.id);
    // A hundred, and the old comment that the newest replies to.
    expect([comments.length, threads]).toEqual([101, 241]);
    expect(comments.find(({ id }) => id === first)).toMatchObject({ replies: 1 });
    expect(comments.map(({ at }) => at)).toEqual([...comments.map(({ at }) => at)].sort((a, b) => a - b));
    const seen = new Map(comments.map((c) => [c.id, c.body]));
    let cursor = before;
    let pages = 1;
    while (cursor !== null) {
      const page = (await runtime.commentPages.more(recording.id, { before: cursor })) as CommentPage;
      for (const { id, body } of page.comments) {
        expect(seen.has(id) && id !== first).toBe(false);
        seen.set(id, body);
      }
      cursor = page.before;
      pages++;
    }
    expect([seen.size, pages]).toEqual([242, 3]);
  });

  it("are those around a moment, and all of a thread", async () => {
    const near = (await runtime.commentPages.more(recording.id, { around: 4 * S, revision: null })) as SomeComments;
    const moments = new Set(near.comments.map(({ at }) => at / S));
    expect([...moments].sort()).toEqual([3, 4]);
    await write(Array.from({ length: 30 }, (_, n) => ({ replyTo: first, at: 5 * S, n: 400 + n })));
    const thread = (await runtime.commentPages.more(recording.id, { thread: first })) as SomeComments;
    expect(thread.comments.map(({ replyTo }) => replyTo)).toEqual([null, ...Array(31).fill(first)]);
    expect(await codeOf(runtime.commentPages.more(recording.id, { around: 900 * S, revision: null }))).toBe(
      "beyond-the-end",
    );
    const elsewhere = (await runtime.commentPages.more(recording.id, { thread: randomUUID() })) as SomeComments;
    expect(elsewhere.comments).toEqual([]);
  });

  it("are counted along the line, and so are reactions besides the newest", async () => {
    const viewer = await runtime.viewers.find(recording, ida.who);
    await runtime.db.rows(
      `insert into reactions (id, recording_id, viewer_id, kind, at_us, created_at)
       select gen_random_uuid(), $1, $2, 'got-it', 2000000, now() - n * interval '1 second'
         from generate_series(1, 260) n returning id`,
      [recording.id, viewer!.id],
    );
    expect(await runtime.reactions.list(recording.id)).toHaveLength(200);
    const along = (await runtime.commentPages.more(recording.id, { along: true })) as Along;
    expect(along.threads.reduce((sum, { count }) => sum + count, 0)).toBe(241);
    expect(along.threads.length).toBeLessThanOrEqual(6);
    expect(along.reactions).toMatchObject([{ kind: "got-it", count: 60 }]);
    expect(Math.abs(along.reactions[0]!.at - 2 * S)).toBeLessThanOrEqual(along.part);
  });

  it.each([
    {},
    { before: "5" },
    { before: "5.x' or 1=1" },
    { around: "-1" },
    { around: "1e99" },
    { thread: "x" },
    { along: "no" },
    { before: `1.${randomUUID()}`, thread: randomUUID() },
  ])("are not asked for by %j", (query) => {
    expect(askedCommentsForm.validate(query).error?.name).toBe("ValidationError");
  });

  it("are so many of one person at the most", async () => {
    const tom = await new Browser(runtime, recording).as("Tom");
    const viewer = await runtime.viewers.find(recording, tom.who);
    await runtime.db.rows(
      `insert into comments (id, recording_id, viewer_id, body, at_us)
       select gen_random_uuid(), $1, $2, 'Again', 0 from generate_series(1, 299) returning id`,
      [recording.id, viewer!.id],
    );
    const comment = { do: "comment", body: "Once more", at: 0, until: null } as const;
    const say = (id: string) => codeOf(runtime.sayings.say(recording, tom.who, { ...comment, id }));
    const last = randomUUID();
    expect([await say(last), await say(randomUUID())]).toEqual(["done", "many-comments"]);
    // The same again, after an answer that was lost, is no other one.
    expect(await say(last)).toBe("done");
  });
});
