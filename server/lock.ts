import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** Another process uses this data directory. */
export class LockedError extends Error {}

/**
 * Claims a data directory for this process, so that two starts never fight over one database.
 * A claim left by a killed process is recognised by its start time and taken over.
 * @returns gives the claim back
 */
export function claim(dataDir: string): () => void {
  const file = join(dataDir, "lock");
  const holder = read(file);
  if (holder && holder.pid !== process.pid && startTime(holder.pid) === holder.since) {
    throw new LockedError(
      `Clear Nod already runs with the data directory ${dataDir} (process ${holder.pid}). Stop it, or set DATA_DIR and PORT.`,
    );
  }
  writeFileSync(file, `${process.pid} ${startTime(process.pid)}\n`);
  return () => rmSync(file, { force: true });
}

function read(file: string): { pid: number; since: string } | null {
  try {
    const [pid, since] = readFileSync(file, "utf8").trim().split(" ");
    return pid && since ? { pid: Number(pid), since } : null;
  } catch {
    return null; // no claim
  }
}

/** When a process started, in clock ticks since boot (proc(5), field 22); null when there is none. */
function startTime(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? null;
  } catch {
    return null;
  }
}
