import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";

/** Another process uses this data directory. */
export class LockedError extends Error {}

/** A process that was just killed takes a moment to be gone. */
const DYING_MS = 3_000;
const LOOK_MS = 100;

interface Holder {
  pid: number;
  since: string;
}

/**
 * Claims a data directory for this process, so that two starts never fight over one database. A claim left by a killed
 * process is recognised by its start time and taken over; one of a process that is being killed is waited for.
 * @returns gives the claim back
 * @throws {LockedError} when another process lives on
 */
export async function claim(dataDir: string): Promise<() => void> {
  const file = join(dataDir, "lock");
  for (let waited = 0; ; waited += LOOK_MS) {
    if (take(file)) return () => rmSync(file, { force: true });
    const holder = read(file);
    if (!holder || !lives(holder)) {
      rmSync(file, { force: true });
      continue;
    }
    if (waited >= DYING_MS) {
      throw new LockedError(
        `Clear Nod already runs with the data directory ${dataDir} (process ${holder.pid}). Stop it, or set DATA_DIR and PORT.`,
      );
    }
    await delay(LOOK_MS);
  }
}

/** @returns whether the claim is now ours; of two who try at once, one is refused by the file system */
function take(file: string): boolean {
  try {
    writeFileSync(file, `${process.pid} ${startOf(process.pid)?.since}\n`, { flag: "wx" });
    return true;
  } catch (cause) {
    if ((cause as NodeJS.ErrnoException).code !== "EEXIST") throw cause;
    const holder = read(file);
    return holder?.pid === process.pid && lives(holder);
  }
}

function read(file: string): Holder | null {
  try {
    const [pid, since] = readFileSync(file, "utf8").trim().split(" ");
    return pid && since ? { pid: Number(pid), since } : null;
  } catch {
    return null; // no claim
  }
}

function lives({ pid, since }: Holder): boolean {
  const start = startOf(pid);
  // A zombie has ended; only its parent has not looked yet.
  return start !== null && start.since === since && start.state !== "Z" && start.state !== "X";
}

/** When a process started, in ticks since boot, and its state (proc(5), fields 22 and 3); null when there is none. */
function startOf(pid: number): { since: string; state: string } | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    return fields[19] ? { since: fields[19], state: fields[0]! } : null;
  } catch {
    return null;
  }
}
