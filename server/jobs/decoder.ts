import { execFile } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";

const run = promisify(execFile);

/** What decoding may cost: it is a stranger's file. Memory is the address space, which is well above use. */
export interface DecoderLimits {
  megabytes: number;
  processorSeconds: number;
  wallMs: number;
}

/** Runs ffmpeg under limits (`prlimit` of util-linux). @throws where it fails, or comes to a limit */
export async function ffmpeg(args: string[], limits: DecoderLimits, signal: AbortSignal): Promise<void> {
  const { megabytes, processorSeconds, wallMs } = limits;
  const bounds = [`--as=${megabytes * 1024 * 1024}`, `--cpu=${processorSeconds}`, "--nofile=64"];
  const command = ["ffmpeg", "-v", "error", "-nostdin", "-y", "-threads", "1", ...args];
  await run("prlimit", [...bounds, ...command], { timeout: wallMs, killSignal: "SIGKILL", signal });
}

/** A folder for files to work on, gone when the work is done or has failed. */
export async function inFolder<T>(work: (dir: string) => Promise<T>): Promise<T> {
  const dir = await mkdtemp(join(tmpdir(), "clear-nod-"));
  try {
    return await work(dir);
  } finally {
    await rm(dir, { recursive: true });
  }
}

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
