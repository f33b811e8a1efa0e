import { createHash } from "node:crypto";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Op } from "sequelize";
import sharp, { type OverlayOptions } from "sharp";
import { coverCrop, type Size } from "#core/layout/layout";
import { alone, firstScene, layerOf, sceneAt, type Scene, type SceneEvent, type Shape } from "#core/layout/scene";
import { kindOf, type TakeSource, type TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { GROUND, pictureAt, type PosterTrack, type Source } from "./poster-source";
import { NAME_POSTER, POSTER_OF } from "./sql";
import { waveformOf } from "./waveform";

const WIDTH = 960;
/** Below this spread of brightness a picture says nothing: one colour, or nearly. */
const BLANK_SPREAD = 6;
/** How far into a take a picture is looked for. */
const SEGMENTS_LOOKED_AT = 10;

interface Take {
  recordingId: string;
  source: TakeSource;
  state: string;
  posterKey: string | null;
}

/**
 * Makes the poster: of a picture, the scene at the first moment that is not blank; of a voice, its waveform.
 * While the take grows there may be none yet; it is asked again when the take is complete.
 * Does nothing when there is a poster, or nothing at all.
 */
export async function makePoster(db: Database, storage: Storage, takeId: string, signal: AbortSignal): Promise<void> {
  const [take] = await db.rows<Take>(POSTER_OF, [takeId]);
  if (!take || take.posterKey) return;
  const tracks: PosterTrack[] = await db.models.Track.findAll({
    where: { takeId, kind: ["screen", "camera", "microphone"] },
    attributes: ["id", "kind", "init", "initKey"],
    raw: true,
  });
  const dir = await mkdtemp(join(tmpdir(), "poster-"));
  try {
    const source: Source = { db, storage, dir, signal };
    const of = (kind: TrackKind) => tracks.find((t) => t.kind === kind);
    const [lead, voice] = [of("screen") ?? of("camera"), of("microphone")];
    const jpeg = lead
      ? await posterOfPicture(source, takeId, take, lead, of("camera"))
      : voice && take.state === "complete"
        ? await waveformOf(source, voice)
        : null;
    if (!jpeg) return;
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

/** @param lead the screen; or the camera, where there is none @returns null where there is nothing to show yet */
async function posterOfPicture(
  source: Source,
  takeId: string,
  take: Take,
  lead: PosterTrack,
  camera: PosterTrack | undefined,
): Promise<Buffer | null> {
  const found = await firstPicture(source, lead, take.state === "complete");
  if (!found) return null;
  const both = take.source === "screen-camera" && lead.kind === "screen" && camera;
  const scene = both ? await sceneOfMoment(source.db, takeId, lead, found.at) : alone(lead.kind);
  const seen = both && layerOf(scene, "camera");
  const face = seen ? await pictureAt(source, camera!, found.segment) : null;
  // The camera's part of this moment is still on its way; its arrival asks for the poster again.
  if (seen && !face && take.state !== "complete") return null;
  return compose(lead.init, scene, { [lead.kind]: found.picture, ...(face && { camera: face.png }) });
}

/** What is seen at a moment of a take. */
async function sceneOfMoment(db: Database, takeId: string, lead: PosterTrack, at: Micros): Promise<Scene> {
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
async function firstPicture(source: Source, track: PosterTrack, last: boolean) {
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

/** Is a picture of one colour, as far as an eye would say? */
export async function isBlank(picture: Buffer): Promise<boolean> {
  const { channels } = await sharp(picture).resize(160, 90, { fit: "fill" }).removeAlpha().stats();
  return channels.every((c) => c.stdev < BLANK_SPREAD);
}

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
