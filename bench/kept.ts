import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import type { Figure } from "./rig";

/** A figure, and how quick the machine was while it was measured. */
export interface Measured extends Figure {
  /** of the fixed piece of work, in ms */
  machine: number;
}
type Kept = Pick<Measured, "bench" | "figure" | "value" | "unit" | "machine">;

const FILE = "docs/figures.json";
/** What got worse by more than this is marked. */
const WORSE = 1.2;

/**
 * A fixed piece of work, the SHA-256 of 32 MB, some times: how long it takes tells how quick the machine is now. In ms.
 */
export function machineTimes(): number[] {
  const bytes = Buffer.alloc(32 * 1024 * 1024, 7);
  return Array.from({ length: 9 }, () => {
    const began = performance.now();
    createHash("sha256").update(bytes).digest();
    return performance.now() - began;
  });
}

/** The figures that were kept last, to stand beside those of now. */
export class Before {
  readonly #kept: Kept[] = existsSync(FILE)
    ? (JSON.parse(readFileSync(FILE, "utf8")) as { figures: Kept[] }).figures
    : [];

  /** What a figure was, in words; with a mark where it got worse than the machine did. */
  beside({ bench, figure, value, goal, unit, machine }: Measured): string {
    const before = this.#kept.find((one) => one.bench === bench && one.figure === figure);
    if (!before) return "";
    // Times are told as they would be if the machine were as quick as it was.
    const speed = unit === "ms" || unit === "s" ? machine / before.machine : 1;
    const now = value / speed;
    const worse = goal.startsWith("≥") ? before.value > now * WORSE : goal !== "" && now > before.value * WORSE;
    return `before ${before.value.toFixed(before.value < 10 ? 2 : 0)}${worse ? "  WORSE" : ""}`;
  }

  /** Keeps the figures of now in the place of those that it has; of benches that were not run, those before stay. */
  keep(figures: readonly Measured[]): void {
    const ran = new Set(figures.map(({ bench }) => bench));
    const others = this.#kept.filter(({ bench }) => !ran.has(bench));
    const now = figures.map(({ bench, figure, value, unit, machine }) => ({
      bench,
      figure,
      value: rounded(value),
      unit,
      machine: rounded(machine),
    }));
    const at = new Date().toISOString();
    writeFileSync(FILE, `${JSON.stringify({ at, figures: [...others, ...now] }, null, 2)}\n`);
  }
}

const rounded = (value: number) => Number(value.toPrecision(4));
