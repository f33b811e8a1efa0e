import type { Placed } from "#core/film/placed";
import type { Rect, Size } from "#core/layout/layout";
import type { SeenMark } from "#core/layout/mark";
import type { Shape } from "#core/layout/scene";
import { nearerBy, turnedSize, type View } from "#core/layout/view";
import { PICTURE_RATE } from "#core/media/tracks";
import { picturesOf } from "../jobs/decoder";
import { GROUND } from "../jobs/poster-source";
import { marksPicture, maskPicture, outlinePicture, type PutOn } from "./drawn";
import { BY_COUNT, BY_TIME, Graph, told, type Held } from "./graph";

/** A picture track in a shot. */
export interface Layer {
  /** an init segment and the segments of the shot */
  file: string;
  /** how many pictures of the file stand before the shot; below 0, where the file begins within it */
  first: number;
  size: Size;
  view: View | undefined;
  /** where it lies: at all times, or at each picture of the shot */
  placed: readonly Placed[];
  /** of the one that others are shown with */
  lead?: {
    /** the place that fills its rectangle: at all times, or at each picture of the shot */
    places: readonly Rect[];
    /** what is drawn on it, one after the other; empty where nothing is */
    marks: readonly Drawn[];
  };
}

/** What is drawn, and for how many pictures. */
export interface Drawn {
  seen: readonly SeenMark[];
  pictures: number;
}

export interface ShotToDraw {
  frame: Size;
  /** how many pictures it has */
  count: number;
  /** from the bottom to the top */
  layers: readonly Layer[];
  pictures: PutOn;
}

const ENCODER = [
  ...["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-profile:v", "high", "-pix_fmt", "yuv420p"],
  // Shots are put one after the other: each begins with a key frame, and is as long as it has pictures.
  ...["-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709", "-color_range", "tv"],
  ...["-bf", "0", "-g", String(10 * PICTURE_RATE), "-video_track_timescale", String(PICTURE_RATE), "-f", "mp4"],
];
const GROUND_COLOUR = GROUND.replace("#", "0x");
const IN_ORDER = `setpts=N/(${PICTURE_RATE}*TB)`;

/** A whole even number of pixels: colours are told for two by two. */
export const even = (pixels: number): number => Math.max(2, 2 * Math.round(pixels / 2));
const evenPlace = (pixels: number) => 2 * Math.round(pixels / 2);

/** Draws one shot, as H.264 at 30 pictures a second. All shots of a film can be put one after the other. */
export async function drawShot(shot: ShotToDraw, dir: string, output: string, signal: AbortSignal): Promise<void> {
  const { frame, count, layers } = shot;
  const graph = new Graph(dir);
  const ground = `color=c=${GROUND_COLOUR}:s=${frame.width}x${frame.height}:r=${PICTURE_RATE}`;
  let drawn = graph.step([], [ground, ...fromRgb("gbrp", "yuv420p")], "ground");
  for (const [i, layer] of layers.entries()) drawn = await laid(graph, shot, layer, drawn, `${i}`);
  await graph.draw(drawn, ["-frames:v", String(count), ...ENCODER, output], signal);
}

/** A still for a while, as a shot. */
export async function drawStill(
  { png, pictures }: Held,
  dir: string,
  output: string,
  signal: AbortSignal,
): Promise<void> {
  const graph = new Graph(dir);
  const still = await graph.stills([{ png, pictures }]);
  const held = [`fps=${PICTURE_RATE}`, "tpad=stop_mode=clone:stop=-1", IN_ORDER];
  const drawn = graph.step([still], [...held, ...fromRgb("gbrp", "yuv420p")], "still");
  await graph.draw(drawn, ["-frames:v", String(pictures), ...ENCODER, output], signal);
}

/** Tracks do not say by which rule their colours are told. Browsers take them for those of BT.709, and films say so. */
const fromRgb = (from: string, to: string): string[] => [
  `format=${from}`,
  "scale=out_color_matrix=bt709:out_range=tv",
  `format=${to}`,
];

/** Lays a layer on what is drawn below it. @param name of it in the graph */
async function laid(graph: Graph, shot: ShotToDraw, layer: Layer, below: string, name: string): Promise<string> {
  const { frame } = shot;
  const rects = layer.placed.map(({ rect }) => ({
    x: evenPlace(rect.x * frame.width),
    y: evenPlace(rect.y * frame.height),
    width: even(rect.width * frame.width),
    height: even(rect.height * frame.height),
  }));
  // As fine as it gets in the shot.
  const box = {
    width: Math.max(...rects.map(({ width }) => width)),
    height: Math.max(...rects.map(({ height }) => height)),
  };
  const shape = layer.placed.at(-1)!.shape;
  let drawn = layer.lead
    ? await leadIn(graph, shot, layer, layer.lead, box, name)
    : graph.step(
        [graph.file(layer.file)],
        [...shown(layer, shot.count), ...within(layer.size, layer.view, box, shape === "rectangle" ? "fit" : "cover")],
        `in-${name}`,
      );
  drawn = await shaped(graph, shot, layer.placed, { box, shape }, drawn, name);
  const widths = told(
    rects.map(({ width }) => width),
    BY_TIME,
  );
  const heights = told(
    rects.map(({ height }) => height),
    BY_TIME,
  );
  const resized =
    new Set(rects.map(({ width, height }) => `${width} ${height}`)).size > 1
      ? graph.step([drawn], [`scale=w=${widths}:h=${heights}:eval=frame`], `size-${name}`)
      : drawn;
  const [x, y] = [
    told(
      rects.map((r) => r.x),
      BY_TIME,
    ),
    told(
      rects.map((r) => r.y),
      BY_TIME,
    ),
  ];
  return graph.step([below, resized], [`overlay=x=${x}:y=${y}:format=yuv420:eval=frame`], `on-${name}`);
}

/** The pictures of a shot out of a file, each for its thirtieth of a second. */
function shown({ first }: Layer, count: number): string[] {
  const missing = Math.max(0, -first);
  const held = missing > 0 ? [`tpad=start=${missing}:start_mode=clone`, `trim=end_frame=${count}`] : [];
  const steps = picturesOf(PICTURE_RATE, Math.max(0, first), Math.max(0, first) + count);
  return [...steps, ...held, IN_ORDER, "scale=out_range=tv", "format=yuv420p"];
}

/** The picture that others are shown with, with what is drawn on it, as it is turned, and as near as it is. */
async function leadIn(
  graph: Graph,
  { frame, count, pictures }: ShotToDraw,
  layer: Layer,
  { places, marks }: NonNullable<Layer["lead"]>,
  box: Size,
  name: string,
): Promise<string> {
  const steps = [...shown(layer, count), ...within(layer.size, undefined, frame, "fit")];
  let drawn = graph.step([graph.file(layer.file)], steps, `lead-${name}`);
  if (marks.length > 0) {
    const held: Held[] = [];
    for (const drawn of marks) held.push({ ...drawn, png: await marksPicture(drawn.seen, frame, pictures) });
    const stills = await graph.stills(held);
    const over = [`fps=${PICTURE_RATE}`, IN_ORDER, ...fromRgb("rgba", "yuva420p")];
    graph.step([stills], over, `marks-${name}`);
    drawn = graph.step([drawn, `marks-${name}`], ["overlay=format=yuv420"], `marked-${name}`);
  }
  const viewed = layer.view ? within(frame, layer.view, frame, "fit") : [];
  const zoomed = places.every(({ width }) => width === 1) ? [] : [nearer(places, frame)];
  const sized = box.width === frame.width && box.height === frame.height ? [] : [`scale=${box.width}:${box.height}`];
  const more = [...viewed, ...zoomed, ...sized];
  return more.length > 0 ? graph.step([drawn], more, `in-${name}`) : drawn;
}

/** Corners of a place, led to the corners of the frame. */
function nearer(places: readonly Rect[], frame: Size): string {
  const across = (share: (place: Rect) => number) =>
    told(
      places.map((place) => share(place) * frame.width),
      BY_COUNT,
    );
  const down = (share: (place: Rect) => number) =>
    told(
      places.map((place) => share(place) * frame.height),
      BY_COUNT,
    );
  const [left, right] = [across(({ x }) => x), across(({ x, width }) => x + width)];
  const [top, bottom] = [down(({ y }) => y), down(({ y, height }) => y + height)];
  const corners = [left, top, right, top, left, bottom, right, bottom];
  const named = corners.map((at, i) => `${i % 2 === 0 ? "x" : "y"}${Math.floor(i / 2)}=${at}`);
  return `perspective=${named.join(":")}:interpolation=cubic:sense=source:eval=frame`;
}

/** A picture as it is turned and cut, in a box: whole, with ground around it, or so that it covers it. */
function within(size: Size, view: View | undefined, box: Size, how: "fit" | "cover"): string[] {
  const { steps, part } = viewedSteps(size, view);
  const [wide, high] = [box.width / part.width, box.height / part.height];
  if (how === "cover") {
    const scale = Math.max(wide, high);
    const cut = { width: Math.min(part.width, box.width / scale), height: Math.min(part.height, box.height / scale) };
    return [...steps, `crop=${even(cut.width)}:${even(cut.height)}`, `scale=${box.width}:${box.height}`];
  }
  const scale = Math.min(wide, high);
  const fits = { width: even(part.width * scale), height: even(part.height * scale) };
  const around = fits.width < box.width || fits.height < box.height;
  return [
    ...steps,
    ...(fits.width === part.width && fits.height === part.height ? [] : [`scale=${fits.width}:${fits.height}`]),
    ...(around ? [`pad=${box.width}:${box.height}:(ow-iw)/2:(oh-ih)/2:color=${GROUND_COLOUR}`] : []),
  ];
}

const TURNED = { 0: [], 90: ["transpose=clock"], 180: ["hflip", "vflip"], 270: ["transpose=cclock"] } as const;

/** @returns what is left of the picture as well */
function viewedSteps(size: Size, view: View | undefined): { steps: string[]; part: Size } {
  if (!view) return { steps: [], part: size };
  const { turn, tilt, crop } = view;
  const { width, height } = turnedSize(size, turn);
  const near = nearerBy({ width, height }, tilt);
  const part = { width: even(width * crop.width), height: even(height * crop.height) };
  const straightened = [
    `rotate=${(tilt * Math.PI) / 180}`,
    `crop=${even(width / near)}:${even(height / near)}`,
    `scale=${width}:${height}`,
  ];
  const place = `${evenPlace(crop.x * width)}:${evenPlace(crop.y * height)}`;
  const steps = [
    ...TURNED[turn],
    ...(tilt === 0 ? [] : straightened),
    `crop=${Math.min(part.width, width)}:${Math.min(part.height, height)}:${place}`,
  ];
  return { steps, part };
}

/** Cuts a layer to its shape, with the line around it, and as much of it as is seen. */
async function shaped(
  graph: Graph,
  { frame }: ShotToDraw,
  placed: readonly Placed[],
  { box, shape }: { box: Size; shape: Shape },
  drawn: string,
  name: string,
): Promise<string> {
  const whole = placed.every(({ opacity }) => opacity === 1);
  if (shape === "rectangle" && whole) return drawn;
  let lined = drawn;
  if (shape !== "rectangle") {
    const line = await outlinePicture(box, shape, Math.max(1, frame.width / 1280));
    const stills = await graph.stills([{ png: line, pictures: 1 }]);
    graph.step([stills], fromRgb("rgba", "yuva420p"), `line-${name}`);
    lined = graph.step([drawn, `line-${name}`], ["overlay=format=yuv420"], `lined-${name}`);
  }
  const held: (Held & { opacity: number })[] = [];
  for (const { opacity } of placed) {
    const last = held.at(-1);
    if (last?.opacity === opacity) last.pictures++;
    else held.push({ opacity, png: await maskPicture(box, shape, opacity), pictures: 1 });
  }
  const mask = await graph.stills(held);
  graph.step([mask], [`fps=${PICTURE_RATE}`, IN_ORDER, "format=gray"], `mask-${name}`);
  return graph.step([lined, `mask-${name}`], ["alphamerge"], `shaped-${name}`);
}
