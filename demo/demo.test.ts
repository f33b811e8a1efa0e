import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { readInit } from "../core/media/init";
import { readSegment } from "../core/media/segment";
import { SEGMENT_SECONDS } from "../core/media/tracks";
import { splitTrack } from "../core/media/split";
import { askProblem } from "../core/answers/kinds";
import type { Runtime } from "../server/runtime";
import { decodeComplaints, probePackets } from "../testing/media";
import { freshRuntime, newMember } from "../testing/server";
import { loadDemo, resetDemo } from "./load";
import { GUESTS, MEMBERS } from "./people";
import { drawPresenter } from "./presenter";
import { FOLDERS } from "./folders";
import { SCRIPTS } from "./scenario";
import { draw, withPointer } from "./screens";

const MEDIA = join(dirname(fileURLToPath(import.meta.url)), "media");
const people = new Set<string>([...MEMBERS.map((m) => m.key), ...Object.keys(GUESTS)]);

describe("the scripts", () => {
  it.each(SCRIPTS.map((s) => [s.slug, s] as const))("%s speaks of people and lines that are there", (_, script) => {
    const lines = script.lines.length;
    const spoken = [...(script.comments ?? []), ...(script.reactions ?? [])];
    for (const { line } of spoken) expect(line).toBeLessThan(lines);
    for (const c of script.comments ?? [])
      for (const by of [c.by, ...(c.replies ?? []).map((r) => r.by)]) expect(people).toContain(by);
    for (const key of script.invites ?? []) expect(key).not.toBe(script.by);
    for (const a of script.answers ?? []) expect([script.ask?.kind, "not-clear"]).toContain(a.kind);
    if (script.ask) expect(askProblem({ choices: [], ...script.ask })).toBeNull();
    expect(script.source.startsWith("screen")).toBe(script.lines.some((l) => l.show));
  });

  it("lie in folders that are made before what lies in them, by people who may put them there", () => {
    for (const [i, { within, colleagues, by, slugs }] of FOLDERS.entries()) {
      const above = FOLDERS.slice(0, i).find(({ name }) => name === within);
      if (within) expect(above).toBeDefined();
      const open = colleagues === "add" || above?.colleagues === "add";
      for (const slug of slugs) {
        const script = SCRIPTS.find((one) => one.slug === slug);
        expect(script, slug).toBeDefined();
        if (!open) expect(script!.by).toBe(by);
      }
    }
  });

  it("has every state of an ask among them", () => {
    const asks = SCRIPTS.map((s) => s.ask);
    for (const kind of ["nod", "choice", "words"] as const) expect(asks.some((a) => a?.kind === kind)).toBe(true);
    expect([
      asks.some((a) => !a),
      asks.some((a) => a?.closed),
      asks.some((a) => (a?.due ?? 0) < 0 && !a?.closed),
      asks.some((a) => (a?.due ?? 0) > 0),
    ]).toEqual([true, true, true, true]);
  });
});

describe("the pictures", () => {
  it("can all be drawn", async () => {
    for (const script of SCRIPTS) {
      for (const { show } of script.lines) {
        if (!show) continue;
        const { svg, focus } = draw(show);
        expect((await sharp(Buffer.from(withPointer(svg, focus))).metadata()).width).toBe(1280);
      }
    }
    for (const { look } of MEMBERS)
      expect(
        (await sharp(Buffer.from(drawPresenter(look, { mouth: 4, blinks: true, lean: -2 }))).metadata()).width,
      ).toBe(640);
  });
});

describe("the media", () => {
  const tracks = SCRIPTS.flatMap((s) =>
    ["screen", "camera", "microphone"].map((kind) => join(MEDIA, s.slug, `${kind}.mp4`)),
  ).filter(existsSync);

  it("is small: each file under 4 MB, about 15 MB in all at the most", () => {
    const sizes = tracks.map((t) => statSync(t).size);
    expect(Math.max(...sizes)).toBeLessThan(4_000_000);
    expect(sizes.reduce((a, b) => a + b, 0)).toBeLessThan(15_000_000);
    expect(readdirSync(MEDIA).sort()).toEqual(SCRIPTS.map((s) => s.slug).sort());
  });

  // Outside check: our own reading of the boxes, beside ffprobe and ffmpeg on the same bytes.
  it.each(["ridge-vent/screen", "ridge-vent/camera", "ridge-vent/microphone", "pane-schedule/screen"])(
    "%s has the form of a browser's track: segments of 1.5 s that begin with a key frame",
    (name) => {
      const file = readFileSync(join(MEDIA, `${name}.mp4`));
      const { init, segments } = splitTrack(file);
      const info = readInit(init);
      const read = segments.map((s) => readSegment(s, info));
      expect(read.reduce((sum, s) => sum + s.frames, 0)).toBe(probePackets(file).packets);
      expect(decodeComplaints(file)).toBe("");
      for (const s of read.slice(0, -1)) expect(s.duration / info.timescale).toBeCloseTo(SEGMENT_SECONDS, 1);
      if (info.type === "video") for (const s of read) expect(s.startsWithKeyFrame).toBe(true);
    },
  );
});

describe("loading the sample", () => {
  let runtime: Runtime;
  beforeAll(async () => {
    runtime = await freshRuntime(inject("databaseUrl"));
  });
  afterAll(() => runtime.close());
  const count = async (table: string) =>
    (await runtime.db.rows<{ n: number }>(`select count(*)::int as n from ${table}`))[0]!.n;

  it("fills an empty database, once, and back again after everything was changed", async () => {
    expect((await loadDemo(runtime, MEDIA)).map((p) => p.name)).toEqual(MEMBERS.map((m) => m.name));
    const tables = [
      "recordings",
      "segments",
      "comments",
      "reactions",
      "answers",
      "asks",
      "invites",
      "viewers",
      "spans",
    ];
    const full = await Promise.all(tables.map(count));
    expect(full.every((n) => n > 0)).toBe(true);
    expect(await loadDemo(runtime, MEDIA)).toHaveLength(MEMBERS.length);
    expect(await Promise.all(tables.map(count))).toEqual(full);
    // Everybody can sign in, and nothing is still on its way.
    const other = await newMember(runtime, "Somebody Else");
    await runtime.db.rows("delete from comments returning id");
    await runtime.db.rows("update recordings set title = 'Changed' where owner_id <> $1 returning id", [other.id]);
    for (const { email, password } of await resetDemo(runtime, MEDIA))
      expect(await runtime.accounts.signIn({ email, password }, { address: "198.51.100.7", computer: null })).toMatch(
        /-/,
      );
    expect(await Promise.all(tables.map(count))).toEqual(full);
    expect(await runtime.db.rows("select id from takes where state <> 'complete'")).toEqual([]);
    expect(await runtime.db.rows("select id from recordings where title = 'Changed'")).toEqual([]);
    // What was not of the sample is left alone.
    expect(await runtime.db.models.Person.findByPk(other.id)).not.toBeNull();
  }, 60_000);

  it("does nothing where something else is", async () => {
    const used = await freshRuntime(inject("databaseUrl"));
    await newMember(used);
    expect(await loadDemo(used, MEDIA)).toEqual([]);
    expect(await used.db.rows("select id from recordings")).toEqual([]);
    await used.close();
  });
});
