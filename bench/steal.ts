import { readFileSync } from "node:fs";

/**
 * Starts counting how much of the processor's time the machine below gave to others (`steal` of proc(5), /proc/stat).
 * Where several machines share one computer, figures of a run with much of it say little about the program.
 * @returns ends the count: the share of all time since, 0 to 1
 */
export function watchSteal(): () => number {
  const before = times();
  return () => {
    const after = times();
    const all = after.all - before.all;
    return all > 0 ? (after.steal - before.steal) / all : 0;
  };
}

function times(): { all: number; steal: number } {
  const [line = ""] = readFileSync("/proc/stat", "utf8").split("\n");
  // user, nice, system, idle, iowait, irq, softirq, steal; what follows is counted in user already.
  const values = line.trim().split(/\s+/).slice(1, 9).map(Number);
  return { all: values.reduce((sum, v) => sum + v, 0), steal: values[7] ?? 0 };
}
