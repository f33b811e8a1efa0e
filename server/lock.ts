import { readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:net";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";

/** Another process uses this data directory. */
export class LockedError extends Error {}

/** A process that was just killed takes a moment to be gone. */
const DYING_MS = 3_000;
const LOOK_MS = 100;

/**
 * Claims a data directory for this process, so that two starts never fight over one database. The claim is a socket in
 * Linux's abstract names (unix(7)): the kernel gives a name to one process only, and takes it back when that process
 * ends, however it ends. A file could not do that: between reading a stale one and removing it, another may take over.
 * @returns gives the claim back
 * @throws {LockedError} when another process lives on
 */
export async function claim(dataDir: string): Promise<() => void> {
  const { dev, ino } = statSync(dataDir);
  const note = join(dataDir, "lock");
  for (let waited = 0; ; waited += LOOK_MS) {
    const held = await listen(`\0clear-nod:${dev}:${ino}`);
    if (held) {
      // The file only tells people, and the message below, whose the directory is.
      writeFileSync(note, `${process.pid}\n`);
      return () => {
        rmSync(note, { force: true });
        held.close();
      };
    }
    if (waited >= DYING_MS) {
      throw new LockedError(
        `Clear Nod already runs with the data directory ${dataDir} (${holder(note)}). Stop it, or set DATA_DIR and PORT.`,
      );
    }
    await delay(LOOK_MS);
  }
}

/** @returns what holds the name; null when another process has it */
async function listen(name: string): Promise<Server | null> {
  const server = createServer((socket) => socket.destroy());
  return new Promise((resolve, reject) => {
    server.once("error", (cause: NodeJS.ErrnoException) =>
      cause.code === "EADDRINUSE" ? resolve(null) : reject(cause),
    );
    server.listen({ path: name }, () => resolve(server.unref()));
  });
}

function holder(note: string): string {
  try {
    return `process ${readFileSync(note, "utf8").trim()}`;
  } catch {
    return "in a process that is just starting or ending";
  }
}
