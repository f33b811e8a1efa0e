import { spawn } from "node:child_process";
import type { Size } from "#core/layout/layout";

/** How a picture is to be drawn: no wider and higher than this, or exactly this size, cut around its middle. */
export interface Wanted {
  /** a drawing (SVG); else it is of pixels */
  drawing: boolean;
  format: "webp" | "jpeg";
  size: { within: number } | { fills: Size };
}

export interface DrawnPicture {
  bytes: Buffer;
  width: number;
  height: number;
}

/** 8000 × 6000: more than any screen has. */
const MOST_PIXELS = 48_000_000;
/** What drawing may cost: it is a stranger's file. Memory is the address space, which is well above use. */
const LIMITS = ["--as=3221225472", "--cpu=6", "--nofile=64"];
const WALL_MS = 20_000;
/** No more than this is taken of what it writes. Bytes */
const MOST_WRITTEN = 16 * 1024 * 1024;

/**
 * What the process runs. It reads the picture from its standard input and writes one line of JSON, and then the bytes.
 * It holds one picture and nothing else of ours: what a decoder does wrong, it does to itself.
 */
const PROGRAM = /* js */ `
import sharp from "sharp";
const { drawing, format, size, pixels, paper } = JSON.parse(process.argv[1]);
sharp.concurrency(1);
sharp.cache(false);
const parts = [];
for await (const part of process.stdin) parts.push(part);
const answer = (head, bytes) => process.stdout.write(Buffer.concat([Buffer.from(JSON.stringify(head) + "\\n"), bytes ?? Buffer.alloc(0)]));
const sent = Buffer.concat(parts);
const none = () => ({ format: null });
const { format: kind, width, height } = await sharp(sent, { limitInputPixels: false }).metadata().catch(none);
const read = sharp(sent, { limitInputPixels: pixels, failOn: "error", pages: 1 });
if (!drawing && !["png", "jpeg", "webp"].includes(kind)) answer({ problem: "no-picture" });
else if (drawing ? kind !== "svg" : width * height > pixels) answer({ problem: "not-drawn" });
else {
  // As its camera held it, and without what else a camera writes down.
  const upright = read.rotate();
  const drawn = size.fills
    ? upright.resize(size.fills.width, size.fills.height, { fit: "cover" })
    : upright.resize(size.within, size.within, { fit: "inside", withoutEnlargement: true });
  const made = format === "webp" ? drawn.webp({ quality: 88 }) : drawn.flatten({ background: paper }).jpeg({ quality: 84 });
  await made.toBuffer({ resolveWithObject: true }).then(
    ({ data, info }) => answer({ width: info.width, height: info.height }, data),
    () => answer({ problem: "not-drawn" }),
  );
}
`;
const PAPER = "#F7F5EF";

/**
 * Draws a picture in a process of its own, under limits (`prlimit` of util-linux).
 * @returns what was wrong, where it cannot be drawn, or comes to a limit
 */
export async function draw(
  picture: Uint8Array,
  wanted: Wanted,
): Promise<DrawnPicture | { problem: "no-picture" | "not-drawn" }> {
  const given = JSON.stringify({ ...wanted, pixels: MOST_PIXELS, paper: PAPER });
  const node = [process.execPath, "--input-type=module", "-e", PROGRAM, given];
  const child = spawn("prlimit", [...LIMITS, "nice", "-n", "10", ...node], {
    stdio: ["pipe", "pipe", "ignore"],
    timeout: WALL_MS,
    killSignal: "SIGKILL",
    // It knows nothing of ours: no passwords, no addresses.
    env: { PATH: process.env.PATH },
  });
  const parts: Buffer[] = [];
  let size = 0;
  child.stdout.on("data", (part: Buffer) => {
    size += part.length;
    if (size > MOST_WRITTEN) child.kill("SIGKILL");
    else parts.push(part);
  });
  // It may end before it has read all: its exit says so.
  child.stdin.on("error", () => undefined);
  child.stdin.end(picture);
  const code = await new Promise<number | null>((done, failed) => {
    child.once("error", failed);
    child.once("close", done);
  });
  const out = Buffer.concat(parts);
  const line = out.indexOf(10);
  if (code !== 0 || line < 0) return { problem: "not-drawn" };
  const head = JSON.parse(out.subarray(0, line).toString()) as
    { width: number; height: number } | { problem: "no-picture" | "not-drawn" };
  return "problem" in head ? head : { ...head, bytes: out.subarray(line + 1) };
}
