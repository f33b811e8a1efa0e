import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import type { Figure } from "./rig";

/** Figures of a run, and how quick the machine was at it. */
interface Kept {
  /** of the fixed piece of work, in ms */
  machine: number;
  at: string;
  figures: Pick<Figure, "bench" | "figure" | "value" | "unit">[];
}

const FILE = "docs/figures.json";
/** What got worse by more than this is marked. */
const WORSE = 1.2;

/** A fixed piece of work: how long it takes tells how quick the machine is now. The best of some, in ms. */
export function machineMs(): number {
  const bytes = Buffer.alloc(32 * 1024 * 1024, 7);
  return Math.min(
    ...Array.from({ length: 5 }, () => {
      const began = performance.now();
      createHash("sha256").update(bytes).digest();
      return performance.now() - began;
    }),
  );
}

/** The figures that were kept last, to stand beside those of now. */
export class Before {
  readonly #kept: Kept | null = existsSync(FILE) ? (JSON.parse(readFileSync(FILE, "utf8")) as Kept) : null;

  constructor(private readonly machine: number) {}

  /** What a figure was, in words; with a mark where it got worse than the machine did. */
  beside({ bench, figure, value, goal, unit }: Figure): string {
    const before = this.#kept?.figures.find((one) => one.bench === bench && one.figure === figure);
    if (!before || !this.#kept) return "";
    // Times are told as they would be if the machine were as quick as it was.
    const speed = unit === "ms" || unit === "s" ? this.machine / this.#kept.machine : 1;
    const now = value / speed;
    const worse = goal.startsWith("≥") ? before.value > now * WORSE : goal !== "" && now > before.value * WORSE;
    return `before ${before.value.toFixed(before.value < 10 ? 2 : 0)}${worse ? "  WORSE" : ""}`;
  }

  /** Keeps the figures of now in the place of those that it has; of benches that were not run, those before stay. */
  keep(figures: readonly Figure[]): void {
    const ran = new Set(figures.map(({ bench }) => bench));
    const others = this.#kept?.figures.filter(({ bench }) => !ran.has(bench)) ?? [];
    const now = figures.map(({ bench, figure, value, unit }) => ({ bench, figure, value: rounded(value), unit }));
    const kept: Kept = { machine: rounded(this.machine), at: new Date().toISOString(), figures: [...others, ...now] };
    writeFileSync(FILE, `${JSON.stringify(kept, null, 2)}\n`);
  }
}

const rounded = (value: number) => Number(value.toPrecision(4));
