import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import { openRuntime, type Runtime } from "../runtime";
import type { SignedIn } from "../accounts/sessions";
import { NOTHING_ASKED } from "#core/answers/kinds";
import { viewerFigures } from "#core/viewing/figures";
import { Folds } from "./folds";

const S = 1_000_000;
const LENGTH = 6 * S;
let runtime: Runtime;
let orla: SignedIn;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
});
afterAll(() => runtime.close());

const fresh = () => sharedRecording(runtime, orla);
const seconds = async (id: string, folds = runtime.folds) => {
  const folded = await folds.of(id);
  return Array.from({ length: folded.viewers }, (_, v) => viewerFigures(folded, v, LENGTH).covered / S);
};

describe("spans", () => {
  it("count once, however often a batch comes", async () => {
    const recording = await fresh();
    const ida = await new Browser(runtime, recording).visit();
    const viewer = (await ida.viewer())!;
    const report = {
      batch: crypto.randomUUID(),
      spans: [
        { from: 0, to: 2 * S, rate: 1 },
        { from: 4 * S, to: 5 * S, rate: 2 },
      ],
    };
    await Promise.all([1, 2, 3].map(() => runtime.spans.take(recording.id, viewer, report)));
    await runtime.spans.take(recording.id, viewer, report);
    expect(await seconds(recording.id)).toEqual([3]);
    const [{ n }] = (await runtime.db.rows<{ n: number }>(
      "select count(*)::int as n from spans where recording_id = $1",
      [recording.id],
    )) as [{ n: number }];
    expect(n).toBe(2);
  });

  it("of the sender are kept apart", async () => {
    const recording = await fresh();
    const sender = await new Browser(runtime, recording, orla).visit();
    await sender.plays([0, 6]);
    expect(await seconds(recording.id)).toEqual([]);
    const one = await runtime.figures.one(recording.id, NOTHING_ASKED, Date.now());
    expect([one.figures.watched, one.people.rows]).toEqual([0, []]);
  });

  it("beyond the end are refused; a hair beyond it is cut", async () => {
    const recording = await fresh();
    const ida = await new Browser(runtime, recording).visit();
    await expect(ida.plays([0, 600])).rejects.toMatchObject({ code: "beyond-the-end" });
    await ida.plays([5, 6.4]);
    expect((await seconds(recording.id))[0]).toBeCloseTo(1, 1);
  });
});

describe("folds", () => {
  it("come out the same from memory, from the database, and from nothing, as more comes in", async () => {
    const recording = await fresh();
    const [ida, tom] = [await new Browser(runtime, recording).visit(), await new Browser(runtime, recording).visit()];
    await ida.plays([0, 2]);
    expect(await seconds(recording.id)).toEqual([2, 0]);
    await runtime.folds.keep(recording.id);
    await tom.plays([1, 4]);
    await ida.plays([1, 3]);
    for (const folds of [runtime.folds, new Folds(runtime.db, runtime.log)])
      expect(await seconds(recording.id, folds)).toEqual([3, 3]);
    // A transaction that another test has open, in whichever database, holds back what is settled.
    const unsettled = async () => {
      await runtime.folds.keep(recording.id);
      return runtime.db.rows(
        `select n from spans s join folds f using (recording_id) where recording_id = $1 and s.made >= f.through`,
        [recording.id],
      );
    };
    await expect.poll(unsettled, { timeout: 60_000 }).toEqual([]);
    await runtime.db.rows("delete from spans where recording_id = $1 returning n", [recording.id]);
    expect(await seconds(recording.id, new Folds(runtime.db, runtime.log))).toEqual([3, 3]);
  });

  it("miss nothing that a slow transaction writes late", async () => {
    const recording = await fresh();
    const ida = await new Browser(runtime, recording).visit();
    const slow = await runtime.db.sequelize.transaction();
    await runtime.db.rows(
      "insert into spans (recording_id, viewer_number, batch, n, from_us, to_us, rate) values ($1, 0, $2, 0, 0, 1000000, 1) returning n",
      [recording.id, crypto.randomUUID()],
      slow,
    );
    await ida.plays([4, 6]);
    expect(await seconds(recording.id)).toEqual([2]);
    await runtime.folds.keep(recording.id);
    await slow.commit();
    expect(await seconds(recording.id)).toEqual([3]);
    expect(await seconds(recording.id, new Folds(runtime.db, runtime.log))).toEqual([3]);
  });

  it("are kept by themselves for the lists", async () => {
    const recording = await fresh();
    const ida = await new Browser(runtime, recording).visit();
    await ida.plays([0, 6]);
    await expect
      .poll(async () => (await runtime.figures.all(orla)).find((r) => r.id === recording.id), { timeout: 10_000 })
      .toMatchObject({ opened: 1, watched: 1, finished: 1, share: expect.closeTo(1, 2) });
    const row = (
      await runtime.library.page(orla, { q: "", sort: "newest", show: "kept", group: null, after: null })
    ).rows.find((r) => r.id === recording.id)!;
    expect(row.back).toMatchObject({ views: 1, ask: null });
    expect(row.back!.strip).toEqual(new Array(60).fill(1));
  });
});

describe("figures of one recording", () => {
  it("tell each person's coverage and what they played again", async () => {
    const recording = await fresh();
    const ida = await new Browser(runtime, recording).as("Ida");
    await ida.plays([0, 3], [2, 4]);
    await ida.say({ do: "react", kind: "not-clear", at: 2 * S });
    const { figures, people, lanes } = await runtime.figures.one(recording.id, NOTHING_ASKED, Date.now());
    expect(people.rows).toMatchObject([
      { name: "Ida", seen: [{ from: 0, to: 4 * S }], again: [{ from: 2 * S, to: 3 * S }], finished: false },
    ]);
    expect(figures.moments.map((m) => m.kind)).toEqual(["again", "not-clear"]);
    expect(lanes.reactions).toEqual([{ kind: "not-clear", at: 2 * S }]);
  });

  it("go out as xAPI statements that are the same at every export", async () => {
    const recording = await fresh();
    await (await new Browser(runtime, recording).as("Ida")).plays([0, 6]);
    await (await new Browser(runtime, recording).visit({ named: false })).plays([0, 3]);
    const all = async () => {
      let text = "";
      for await (const piece of runtime.figures.statements(recording.id, "https://nod.test/w/x", "Ridge"))
        text += piece;
      return JSON.parse(text) as { id: string; actor: { name?: string }; verb: { id: string } }[];
    };
    const statements = await all();
    expect(statements.map((s) => [s.actor.name ?? null, s.verb.id.split("/").at(-1)])).toEqual([
      ["Ida", "initialized"],
      ["Ida", "terminated"],
      ["Ida", "completed"],
      [null, "initialized"],
      [null, "terminated"],
    ]);
    for (const s of statements) expect(s.id).toMatch(/^[\da-f]{8}-[\da-f]{4}-8[\da-f]{3}-a[\da-f]{3}-[\da-f]{12}$/);
    expect(await all()).toEqual(statements);
    expect(new Set(statements.map((s) => s.id)).size).toBe(5);
  });
});

it("a process that ends keeps what was still waiting to be folded", async () => {
  const recording = await fresh();
  const other = await openRuntime(runtime.settings, databaseUrlOf(runtime));
  const ida = await new Browser(other, recording).visit();
  await ida.plays([0, 6]);
  await other.close();
  const rows = await runtime.db.rows<{ watched: number }>("select watched from folds where recording_id = $1", [
    recording.id,
  ]);
  expect(rows).toEqual([{ watched: 1 }]);
});
