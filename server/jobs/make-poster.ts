import { execFile } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { Op } from "sequelize";
import sharp, { type OverlayOptions } from "sharp";
import { coverCrop, type Size } from "#core/layout/layout";
import { alone, firstScene, layerOf, sceneAt, type Scene, type SceneEvent, type Shape } from "#core/layout/scene";
import type { InitInfo } from "#core/media/init";
import { kindOf, type TakeSource, type TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { NAME_POSTER, POSTER_OF } from "./sql";

const run = promisify(execFile);

const WIDTH = 960;
/** Below this spread of brightness a picture says nothing: one colour, or nearly. */
const BLANK_SPREAD = 6;
/** How far into a take a picture is looked for. */
const SEGMENTS_LOOKED_AT = 10;

interface PictureTrack {
  id: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
}

/** Where pictures come from, and where they are worked on. */
interface Source {
  db: Database;
  storage: Storage;
  dir: string;
  /** given when nobody wants the poster any more */
  signal: AbortSignal;
}

/**
 * Makes the poster from the first picture that is not blank, with the camera in its arch where the layout has it.
 * While the take grows it may find only blank pictures; it is asked again when the take is complete.
 * Does nothing when there is a poster, or no picture at all.
 */
export async function makePoster(db: Database, storage: Storage, takeId: string, signal: AbortSignal): Promise<void> {
  const [take] = await db.rows<{
    recordingId: string;
    source: TakeSource;
    state: string;
    posterKey: string | null;
  }>(POSTER_OF, [takeId]);
  if (!take || take.posterKey) return;
  const tracks: PictureTrack[] = await db.models.Track.findAll({
    where: { takeId, kind: ["screen", "camera"] },
    attributes: ["id", "kind", "init", "initKey"],
    raw: true,
  });
  const screen = tracks.find((t) => t.kind === "screen");
  const camera = tracks.find((t) => t.kind === "camera");
  const lead = screen ?? camera;
  if (!lead) return;

  const dir = await mkdtemp(join(tmpdir(), "poster-"));
  try {
    const source: Source = { db, storage, dir, signal };
    const found = await firstPicture(source, lead, take.state === "complete");
    if (!found) return;
    const both = take.source === "screen-camera" && camera && screen;
    const scene = both ? await sceneOfMoment(db, takeId, lead, found.at) : alone(lead.kind);
    const seen = both && layerOf(scene, "camera");
    const face = seen ? await pictureAt(source, camera, found.segment) : null;
    // The camera's part of this moment is still on its way; its arrival asks for the poster again.
    if (seen && !face && take.state !== "complete") return;
    const pictures = { [lead.kind]: found.picture, ...(face && { camera: face.png }) };
    const jpeg = await compose(lead.init, scene, pictures);
    const key = `posters/${take.recordingId}/${createHash("sha256").update(jpeg).digest("hex").slice(0, 16)}.jpg`;
    signal.throwIfAborted();
    await storage.put(key, jpeg);
    const [named] = await db.rows<{ key: string }>(NAME_POSTER, [take.recordingId, key]);
    // Erased meanwhile, or another run of this job was faster.
    if (named?.key !== key) await storage.remove(key);
  } finally {
    await rm(dir, { recursive: true });
  }
}

/** What is seen at a moment of a take. */
async function sceneOfMoment(db: Database, takeId: string, lead: PictureTrack, at: Micros): Promise<Scene> {
  const events = await db.models.Entry.findAll({
    where: { takeId, kind: "scene", atUs: { [Op.lte]: at } },
    order: ["atUs", "id"],
    raw: true,
  });
  const scenes = events.flatMap(({ atUs, body }): SceneEvent[] =>
    body && "layers" in body ? [{ at: atUs, ...body }] : [],
  );
  return sceneAt(scenes, at, firstScene(lead.kind, lead.init, true));
}

/** The first picture that is not blank; the first of all, when they are and no more will come. */
async function firstPicture(source: Source, track: PictureTrack, last: boolean) {
  let first: { picture: Buffer; at: number; segment: number } | null = null;
  for (let segment = 1; segment <= SEGMENTS_LOOKED_AT; segment++) {
    const picture = await pictureAt(source, track, segment);
    if (!picture) break;
    const found = { picture: picture.png, segment, at: picture.at };
    if (!(await isBlank(picture.png))) return found;
    first ??= found;
  }
  return last ? first : null;
}

/** The first frame of a segment as PNG, and its source time; null when the segment is not here. */
async function pictureAt(
  source: Source,
  track: PictureTrack,
  number: number,
): Promise<{ png: Buffer; at: Micros } | null> {
  const { db, storage, dir } = source;
  const row = await db.models.Segment.findOne({ where: { trackId: track.id, number } });
  if (!row) return null;
  const input = join(dir, `${track.kind}-${number}.mp4`);
  const output = join(dir, `${track.kind}-${number}.png`);
  await writeFile(input, Buffer.concat([await storage.get(track.initKey), await storage.get(row.key)]));
  await decodeFirst(input, output, source.signal);
  return { png: await readFile(output), at: row.startUs };
}

/** What a picture may cost to decode: it is a stranger's file. Memory is the address space, which is well above use. */
const DECODER = { megabytes: 2_048, processorSeconds: 20, wallMs: 60_000 };

/** The first frame of a file, by ffmpeg under limits (`prlimit` of util-linux). */
async function decodeFirst(input: string, output: string, signal: AbortSignal): Promise<void> {
  const limits = [`--as=${DECODER.megabytes * 1024 * 1024}`, `--cpu=${DECODER.processorSeconds}`, "--nofile=64"];
  const ffmpeg = ["ffmpeg", "-v", "error", "-nostdin", "-y", "-threads", "1", "-i", input, "-frames:v", "1", output];
  await run("prlimit", [...limits, ...ffmpeg], { timeout: DECODER.wallMs, killSignal: "SIGKILL", signal });
}

/** Is a picture of one colour, as far as an eye would say? */
export async function isBlank(picture: Buffer): Promise<boolean> {
  const { channels } = await sharp(picture).resize(160, 90, { fit: "fill" }).removeAlpha().stats();
  return channels.every((c) => c.stdev < BLANK_SPREAD);
}

/** Behind what does not fill the frame: the colour of the player's ground. */
const GROUND = "#16302B";

/** The pictures of a scene, each in its place in a frame. One that is not here leaves its place empty. */
async function compose(frame: Size, scene: Scene, pictures: Partial<Record<TrackKind, Buffer>>): Promise<Buffer> {
  const width = Math.min(WIDTH, frame.width);
  const height = Math.round((width * frame.height) / frame.width);
  const layers = scene.layers.map(async ({ track, rect, shape }): Promise<OverlayOptions[]> => {
    const kind = kindOf(track);
    const picture = kind && pictures[kind];
    const [left, top] = [Math.round(rect.x * width), Math.round(rect.y * height)];
    const size = {
      width: Math.max(1, Math.min(width - left, Math.round(rect.width * width))),
      height: Math.max(1, Math.min(height - top, Math.round(rect.height * height))),
    };
    return picture ? [{ input: await shaped(picture, size, shape), left, top }] : [];
  });
  return sharp({ create: { width, height, channels: 3, background: GROUND } })
    .composite((await Promise.all(layers)).flat())
    .jpeg({ quality: 82 })
    .toBuffer();
}

/** A picture as a layer: whole in a rectangle; or cut to the arch, a half circle on a straight foot. */
async function shaped(picture: Buffer, { width, height }: Size, shape: Shape): Promise<Buffer> {
  if (shape === "rectangle")
    return sharp(picture).resize(width, height, { fit: "contain", background: GROUND }).png().toBuffer();
  const { width: w = width, height: h = height } = await sharp(picture).metadata();
  const crop = coverCrop({ width: w, height: h }, { width, height });
  const r = width / 2;
  const mask = `<svg width="${width}" height="${height}"><path d="M0 ${height}V${r}A${r} ${r} 0 0 1 ${width} ${r}V${height}Z"/></svg>`;
  return sharp(picture)
    .extract({
      left: Math.round(crop.x),
      top: Math.round(crop.y),
      width: Math.floor(crop.width),
      height: Math.floor(crop.height),
    })
    .resize(width, height, { fit: "fill" })
    .ensureAlpha()
    .composite([{ input: Buffer.from(mask), blend: "dest-in" }])
    .png()
    .toBuffer();
}
