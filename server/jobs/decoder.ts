import { execFile, spawn } from "node:child_process";
import { pipeline } from "node:stream/promises";
import { promisify } from "node:util";

const run = promisify(execFile);

/** What decoding may cost: it is a stranger's file. Memory is the address space, which is well above use. */
export interface DecoderLimits {
  megabytes: number;
  processorSeconds: number;
  wallMs: number;
  /** after everything else that the computer does */
  gentle?: boolean;
}

/** Runs ffmpeg under limits (`prlimit` of util-linux). @throws where it fails, or comes to a limit */
export async function ffmpeg(args: string[], limits: DecoderLimits, signal: AbortSignal): Promise<void> {
  await run("prlimit", limited(args, limits), { timeout: limits.wallMs, killSignal: "SIGKILL", signal });
}

interface Streams {
  limits: DecoderLimits;
  signal: AbortSignal;
  /** what it reads from its standard input, as it takes it */
  input?: AsyncIterable<Uint8Array>;
}

/** What ffmpeg writes to its standard output, as it comes: no faster than it is taken. @throws as `ffmpeg` */
export async function* ffmpegOut(args: string[], { limits, signal, input }: Streams): AsyncGenerator<Buffer> {
  const how = { timeout: limits.wallMs, killSignal: "SIGKILL", signal } as const;
  const child = spawn("prlimit", limited(args, limits, input !== undefined), { ...how, stdio: "pipe" });
  let said = "";
  child.stderr.on("data", (words: Buffer) => (said = (said + words.toString()).slice(-2_000)));
  const ended = new Promise<void>((done, failed) => {
    child.once("error", failed);
    child.once("close", (code) => (code === 0 ? done() : failed(new Error(`ffmpeg: ${said || `ended with ${code}`}`))));
  });
  const fed = pipeline(input ?? [], child.stdin);
  // They are looked at below; until then they are not unhandled.
  ended.catch(() => undefined);
  fed.catch(() => undefined);
  try {
    for await (const chunk of child.stdout) yield chunk as Buffer;
    await ended;
    await fed;
  } finally {
    child.kill("SIGKILL");
  }
}

/** Runs ffmpeg on what it reads from its standard input. @throws as `ffmpeg` */
export async function ffmpegFed(args: string[], streams: Required<Streams>): Promise<void> {
  const out = ffmpegOut(args, streams);
  while (!(await out.next()).done) continue;
}

const PROBE = { megabytes: 1_024, processorSeconds: 20, wallMs: 30_000 };

/** How many channels the first sound of a file has. @throws as `ffmpeg` */
export async function channelsOf(file: string, signal: AbortSignal): Promise<number> {
  const told = await probed(file, ["-select_streams", "a:0", "-show_entries", "stream=channels"], signal);
  return Math.max(1, Number.parseInt(told, 10) || 1);
}

/** How long a file is; NaN where it does not say so. Seconds. @throws as `ffmpeg` */
export const secondsOf = async (file: string, signal: AbortSignal): Promise<number> =>
  Number.parseFloat(await probed(file, ["-show_entries", "format=duration"], signal));

/** What ffprobe says of a file, under limits. */
async function probed(file: string, wanted: string[], signal: AbortSignal): Promise<string> {
  const asked = ["-v", "error", ...wanted, "-of", "csv=p=0", file];
  const how = { timeout: PROBE.wallMs, killSignal: "SIGKILL", signal } as const;
  return (await run("prlimit", [...boundsOf(PROBE), "ffprobe", ...asked], how)).stdout;
}

const boundsOf = ({ megabytes, processorSeconds }: DecoderLimits): string[] => [
  `--as=${megabytes * 1024 * 1024}`,
  `--cpu=${processorSeconds}`,
  "--nofile=64",
];
const limited = (args: string[], limits: DecoderLimits, reads = false): string[] => [
  ...boundsOf(limits),
  ...(limits.gentle ? ["nice", "-n", "10"] : []),
  "ffmpeg",
  "-v",
  "error",
  ...(reads ? [] : ["-nostdin"]),
  "-y",
  "-threads",
  "1",
  ...args,
];

/**
 * Steps (ffmpeg's filters) that leave pictures `[first, end)` of a segment, counted from its beginning at a rate.
 * One that stands for longer comes again, and the last one stands until the segment ends.
 */
export const picturesOf = (rate: number, first: number, end: number): string[] => [
  "setpts=PTS-STARTPTS",
  `fps=${rate}`,
  "tpad=stop_mode=clone:stop=-1",
  `trim=start_frame=${first}:end_frame=${end}`,
];
