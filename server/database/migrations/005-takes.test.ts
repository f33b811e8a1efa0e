import { randomBytes } from "node:crypto";
import pg from "pg";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import type { InsetSize, Place } from "#core/layout/layout";
import { layerOf, sceneOf, type Scene } from "#core/layout/scene";
import { createDatabase } from "../../../testing/postgres";
import { migrations } from ".";

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
let client: pg.Client;

beforeAll(async () => {
  const name = `m${randomBytes(6).toString("hex")}`;
  // Numbers of 8 bytes as they come, whatever other modules have set for all.
  const types = new pg.TypeOverrides();
  types.setTypeParser(pg.types.builtins.INT8, (text: string) => text);
  client = new pg.Client({ connectionString: await createDatabase(inject("databaseUrl"), name, "template0"), types });
  await client.connect();
});
afterAll(() => client.end());

it("keeps what was recorded before there were several takes", async () => {
  const at = migrations.findIndex((m) => m.name === "005-takes");
  for (const { sql } of migrations.slice(0, at)) await client.query(sql);
  const layout: { at: number; corner: Place; size: InsetSize; shown: boolean }[] = [
    { at: 0, corner: "bottom-right", size: "medium", shown: true },
    { at: 5_000_000, corner: "top-left", size: "small", shown: true },
    { at: 9_000_000, corner: "top-left", size: "small", shown: false },
  ];
  const screen = { type: "video", width: 1280, height: 800, timescale: 30, codec: "avc1.640028" };
  await client.query(`insert into workspaces (id, name) values ('${id(1)}', 'Fenn & Lark')`);
  await client.query(
    `insert into people (id, name, email, password_hash) values ('${id(2)}', 'Orla', 'orla@glasshouse.test', '-')`,
  );
  for (const [n, state, source] of [
    [10, "complete", "screen-camera"],
    [20, "recording", "voice"],
  ] as const) {
    await client.query(
      `insert into recordings (id, workspace_id, owner_id, title, token, duration_us) values ($1, $2, $3, 'A', $4, $5)`,
      [id(n), id(1), id(2), `token-${n}`, state === "complete" ? 12_000_000 : 0],
    );
    await client.query(
      "insert into takes (id, recording_id, position, source, state, layout) values ($1, $2, 1, $3, $4, $5)",
      [id(n + 1), id(n), source, state, JSON.stringify(layout)],
    );
    await client.query(
      "insert into tracks (id, take_id, kind, init_key, init_digest, init) values ($1, $2, $3, '', '', $4)",
      [id(n + 2), id(n + 1), n === 10 ? "screen" : "microphone", JSON.stringify(screen)],
    );
    const recipe = { version: 1, kept: [{ take: id(n + 1), from: 0, to: null }] };
    await client.query("insert into revisions (id, recording_id, number, recipe) values ($1, $2, 1, $3)", [
      id(n + 3),
      id(n),
      JSON.stringify(recipe),
    ]);
  }
  await client.query(migrations[at]!.sql);

  const rows = async (sql: string) => (await client.query<Record<string, unknown>>(sql)).rows;
  const whole = { version: 2, kept: [{ from: 0, to: null }] };
  expect(await rows("select recipe, grows, closed_us from revisions order by id")).toEqual([
    { recipe: whole, grows: id(11), closed_us: "0" },
    { recipe: whole, grows: id(21), closed_us: "0" },
  ]);
  expect(await rows("select track, track_id, first, last, moved_us from pieces order by track_id")).toEqual([
    { track: "screen", track_id: id(12), first: 1, last: null, moved_us: "0" },
    { track: "microphone", track_id: id(22), first: 1, last: null, moved_us: "0" },
  ]);
  expect(await rows("select duration_us from takes order by id")).toEqual([
    { duration_us: "12000000" },
    { duration_us: null },
  ]);
  // Each scene is what the recorder makes now of the same inset; a voice has none.
  const scenes = await rows("select take_id, at_us, body from entries order by at_us");
  expect(scenes.map((s) => [s.take_id, s.at_us])).toEqual([0, 5_000_000, 9_000_000].map((us) => [id(11), String(us)]));
  layout.forEach(({ corner, size, shown }, i) => {
    const scene = scenes[i]!.body as Scene;
    const now = sceneOf(screen, { scene: shown ? "inset" : "screen", place: corner, size });
    expect(scene.layers.map(({ track, shape }) => [track, shape])).toEqual(
      now.layers.map(({ track, shape }) => [track, shape]),
    );
    const [was, is] = [layerOf(scene, "camera")?.rect, layerOf(now, "camera")?.rect];
    for (const side of ["x", "y", "width", "height"] as const) expect(was?.[side] ?? 0).toBeCloseTo(is?.[side] ?? 0, 9);
  });
});
