import sharp, { type OverlayOptions } from "sharp";
import { coverCrop, type Size } from "#core/layout/layout";
import { alone, layerOf, sceneAt, type Scene, type Shape } from "#core/layout/scene";
import { kindOf, type TrackKind } from "#core/media/tracks";
import type { Viewed } from "#core/recipe/dress";
import { SECOND, type Micros } from "#core/time/micros";
import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import type { Database } from "../database/connection";
import { seenOf } from "../playback/seen";
import { posterKey } from "../recordings/posters";
import type { Storage } from "../storage/storage";
import { inFolder } from "./work-room";
import { GROUND, pictureOf, type ShownSegment, type Source } from "./poster-source";
import { NAME_POSTER, POSTER_OF, SEGMENT_AT, SHOWN_SEGMENTS } from "./sql";
import { viewed } from "./viewed";
import { waveformOf } from "./waveform";

const WIDTH = 960;
/** Below this spread of brightness a picture says nothing: one colour, or nearly. */
const BLANK_SPREAD = 6;
/** How far into a take a picture is looked for. */
const SEGMENTS_LOOKED_AT = 10;

interface Shown {
  revisionId: string;
  /** nothing more will come */
  whole: boolean;
  posterKey: string | null;
  /** the moment that its owner wants, on the source line */
  posterAt: Micros | null;
  recipe: unknown;
}

/** A picture that leads a poster, and where it stands. */
interface LeadPicture {
  segment: ShownSegment;
  picture: Buffer;
  /** in shown time */
  at: Micros;
}

/**
 * Makes the poster of what is published: of a picture, the scene at the first moment that is not blank; of a voice, its
 * waveform. While a take grows there may be none yet; it is asked again when the take is complete.
 * Does nothing when there is a poster, or nothing at all.
 */
export async function makePoster(
  db: Database,
  storage: Storage,
  recordingId: string,
  signal: AbortSignal,
): Promise<void> {
  const [shown] = await db.rows<Shown>(POSTER_OF, [recordingId]);
  if (!shown || shown.posterKey) return;
  await inFolder(async (dir) => {
    const source: Source = { db, storage, dir, signal };
    const first = (kind: TrackKind, count: number | null) =>
      db.rows<ShownSegment>(SHOWN_SEGMENTS, [shown.revisionId, kind, count]);
    const [screen, camera] = [await first("screen", SEGMENTS_LOOKED_AT), await first("camera", SEGMENTS_LOOKED_AT)];
    // The screen's first part is still on its way; its arrival asks for the poster again.
    if (!shown.whole && screen.length === 0 && camera[0]?.source === "screen-camera") return;
    const lead = isFirst(screen, camera) ? screen : camera;
    const chosen = lead.length > 0 ? await chosenPicture(source, shown) : null;
    const jpeg =
      lead.length > 0
        ? await posterOfPicture(source, recordingId, shown, chosen ?? (await firstPicture(source, lead, shown.whole)))
        : shown.whole
          ? await waveformOf(source, await first("microphone", null))
          : null;
    if (!jpeg) return;
    const key = posterKey(recordingId, jpeg);
    signal.throwIfAborted();
    await storage.put(key, jpeg);
    const [named] = await db.rows<{ key: string }>(NAME_POSTER, [recordingId, key, shown.revisionId, shown.posterAt]);
    // Erased meanwhile, something else is shown by now, or another run of this job was faster.
    if (named?.key !== key) await storage.remove(key);
  });
}

/** The picture of the moment that the owner has chosen; null where they have not, and while that is left out. */
async function chosenPicture(source: Source, { revisionId, posterAt, recipe }: Shown): Promise<LeadPicture | null> {
  if (posterAt === null) return null;
  const { shown: at, kept } = new ShownLine(parseRecipe(recipe), Infinity).toShown(posterAt);
  if (!kept) return null;
  for (const kind of ["screen", "camera"] as const) {
    const [segment] = await source.db.rows<ShownSegment>(SEGMENT_AT, [revisionId, kind, at]);
    if (!segment) continue;
    const inSegment = at - segment.movedUs - segment.startUs;
    return { segment, picture: await pictureOf(source, segment, inSegment), at };
  }
  return null;
}

/** @returns null: nothing to show yet */
async function posterOfPicture(
  source: Source,
  recordingId: string,
  shown: Shown,
  lead: LeadPicture | null,
): Promise<Buffer | null> {
  if (!lead) return null;
  const { segment, picture, at } = lead;
  const { kind, init } = segment;
  const both = segment.source === "screen-camera" && kind === "screen";
  const recipe = parseRecipe(shown.recipe);
  const seen = both ? await seenOf(source.db, recordingId, recipe, new ShownLine(recipe, Infinity)) : null;
  const scene = sceneAt(seen?.scenes(init) ?? [], at, alone(kind));
  const asSeen = (of: TrackKind, as: Buffer) => {
    const view = recipe.views?.[of as Viewed];
    return view ? viewed(as, view) : as;
  };
  const [camera] =
    both && layerOf(scene, "camera")
      ? await source.db.rows<ShownSegment>(SEGMENT_AT, [shown.revisionId, "camera", at])
      : [];
  // The camera's part of this moment is still on its way; its arrival asks for the poster again.
  if (both && layerOf(scene, "camera") && !camera && !shown.whole) return null;
  const face = camera && (await pictureOf(source, camera, at - camera.startUs - camera.movedUs));
  return compose(init, scene, {
    [kind]: await asSeen(kind, picture),
    ...(face && { camera: await asSeen("camera", face) }),
  });
}

/** Takes may have different pictures: the one that is shown first, and of those that begin together the screen. */
function isFirst([screen]: ShownSegment[], [camera]: ShownSegment[]): boolean {
  const at = ({ startUs, movedUs }: ShownSegment) => startUs + movedUs;
  return screen !== undefined && (camera === undefined || at(screen) <= at(camera) + SECOND);
}

/**
 * The first picture that is not blank; the first of all, when they are and no more will come.
 * @param segments the screen's first ones; or the camera's, where there is none
 */
async function firstPicture(source: Source, segments: ShownSegment[], whole: boolean): Promise<LeadPicture | null> {
  let first: LeadPicture | null = null;
  for (const segment of segments) {
    const picture = await pictureOf(source, segment);
    const { startUs, movedUs } = segment;
    const lead = { segment, picture, at: startUs + movedUs };
    if (!(await isBlank(picture))) return lead;
    first ??= lead;
  }
  return whole ? first : null;
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

/** A picture as a layer: whole in a rectangle; or cut to a tile, or to the arch, a half circle on a straight foot. */
async function shaped(picture: Buffer, { width, height }: Size, shape: Shape): Promise<Buffer> {
  if (shape === "rectangle")
    return sharp(picture).resize(width, height, { fit: "contain", background: GROUND }).png().toBuffer();
  const { width: w = width, height: h = height } = await sharp(picture).metadata();
  const crop = coverCrop({ width: w, height: h }, { width, height });
  const cover = sharp(picture)
    .extract({
      left: Math.round(crop.x),
      top: Math.round(crop.y),
      width: Math.floor(crop.width),
      height: Math.floor(crop.height),
    })
    .resize(width, height, { fit: "fill" });
  if (shape === "tile") return cover.png().toBuffer();
  const r = width / 2;
  const mask = `<svg width="${width}" height="${height}"><path d="M0 ${height}V${r}A${r} ${r} 0 0 1 ${width} ${r}V${height}Z"/></svg>`;
  return cover
    .ensureAlpha()
    .composite([{ input: Buffer.from(mask), blend: "dest-in" }])
    .png()
    .toBuffer();
}
