import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import { PICTURE_RATE } from "#core/media/tracks";
import { ffmpeg, type DecoderLimits } from "../jobs/decoder";

/** What is drawn in a shot may cost; nobody who watches or records is to notice. */
const LIMITS: DecoderLimits = { megabytes: 4_096, processorSeconds: 480, wallMs: 500_000, gentle: true };

/** A still, and at how many pictures one after the other it is there. */
export interface Held {
  png: Buffer;
  pictures: number;
}

/** A graph of ffmpeg's filters, with its inputs: written step by step, and drawn in one go. */
export class Graph {
  #inputs: string[] = [];
  #count = 0;
  #steps: string[] = [];

  /** @param dir for files; emptied by whoever made it */
  constructor(private readonly dir: string) {}

  /** @returns the name of the file's pictures in steps */
  file(path: string, ...how: string[]): string {
    this.#inputs.push(...how, "-i", path);
    return `${this.#count++}:v`;
  }

  /** Stills one after the other; the last one stays. */
  async stills(held: readonly Held[]): Promise<string> {
    const name = `stills-${this.#count}`;
    const lines = ["ffconcat version 1.0"];
    for (const [i, { png, pictures }] of held.entries()) {
      const file = join(this.dir, `${name}-${i}.png`);
      await writeFile(file, png);
      lines.push(`file '${file}'`, `duration ${(pictures / PICTURE_RATE).toFixed(6)}`);
      // The length of the last one is not listened to unless it comes again.
      if (i === held.length - 1) lines.push(`file '${file}'`);
    }
    const list = join(this.dir, `${name}.txt`);
    await writeFile(list, lines.join("\n"));
    return this.file(list, "-f", "concat", "-safe", "0");
  }

  /** @returns `to` */
  step(from: readonly string[], filters: readonly string[], to: string): string {
    this.#steps.push(`${from.map((name) => `[${name}]`).join("")}${filters.join(",")}[${to}]`);
    return to;
  }

  /** Draws what one step gave. @param args how it is written, and where */
  async draw(of: string, args: readonly string[], signal: AbortSignal): Promise<void> {
    const script = join(this.dir, "graph.txt");
    await writeFile(script, this.#steps.join(";\n"));
    const graph = ["-filter_complex_script", script, "-map", `[${of}]`];
    await ffmpeg([...this.#inputs, ...graph, ...args], LIMITS, signal);
  }
}

/** The number of a picture of a shot, from 0, in expressions of filters that know the time. */
export const BY_TIME = `round(${PICTURE_RATE}*t)`;
/** The same in `perspective`, which counts what it has given from 1 (ffmpeg 5.1, measured). */
export const BY_COUNT = "on-1";

/**
 * A number that is another one at each picture, as an expression; a plain number, where it stays the same.
 * @param n the number of a picture, as an expression
 */
export function told(values: readonly number[], n: string): string {
  const [first, ...more] = values.map((value) => value.toFixed(3));
  if (more.every((value) => value === first)) return first!;
  const last = more.length;
  const each = more.map((value, i) => `${i + 1 === last ? "gte" : "eq"}(ld(0),${i + 1})*${value}`);
  return `'st(0,${n});${[`lte(ld(0),0)*${first}`, ...each].join("+")}'`;
}
