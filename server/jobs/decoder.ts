import { execFile } from "node:child_process";
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
