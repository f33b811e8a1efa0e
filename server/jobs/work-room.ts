import { mkdir, mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Where folders to work in are made: the room of this process, or the computer's, where it has none. */
let room = tmpdir();

/**
 * From now on this process works in this directory, and nobody else does. What one that was killed has left there goes:
 * it may be pieces of recordings.
 */
export async function openWorkRoom(dir: string): Promise<void> {
  await rm(dir, { recursive: true, force: true });
  await mkdir(dir, { recursive: true, mode: 0o700 });
  room = dir;
}

/** A folder for files to work on, gone when the work is done or has failed. */
export async function inFolder<T>(work: (dir: string) => Promise<T>): Promise<T> {
  const dir = await mkdtemp(join(room, "clear-nod-"));
  try {
    return await work(dir);
  } finally {
    await rm(dir, { recursive: true });
  }
}
