import { Problem } from "../http/problem";

/** Whom an open stream counts for. */
export interface Counted {
  /** the viewer of a recording, or the member whose news it is */
  viewer: string;
  /** null for a guest */
  session: string | null;
  address: string;
}

/** How many may be open at once. A hidden page has none, so these are windows that somebody looks at. */
const MOST = { viewer: 8, session: 24, address: 3_000, process: 8_000 };

/** Counts open streams, and refuses those that are too many. */
export class Admission {
  #open = new Map<string, number>();
  #all = 0;

  constructor(private readonly most = MOST) {}

  /**
   * @returns gives the place back, once
   * @throws {Problem} 429 for too many of one's own, 503 when the process is full
   */
  enter(who: Counted): () => void {
    const keys = keysOf(who);
    if (this.#all >= this.most.process) throw refusal(503);
    for (const [by, key] of keys) if ((this.#open.get(key) ?? 0) >= this.most[by]) throw refusal(429);
    this.#all++;
    for (const [, key] of keys) this.#open.set(key, (this.#open.get(key) ?? 0) + 1);
    let there = true;
    return () => {
      if (!there) return;
      there = false;
      this.#all--;
      for (const [, key] of keys) {
        const left = this.#open.get(key)! - 1;
        if (left > 0) this.#open.set(key, left);
        else this.#open.delete(key);
      }
    };
  }

  /** how many are open */
  get count(): number {
    return this.#all;
  }
}

function keysOf({ viewer, session, address }: Counted): ["viewer" | "session" | "address", string][] {
  return [
    ["viewer", `viewer ${viewer}`],
    ["address", `address ${address}`],
    ...(session ? ([["session", `session ${session}`]] as ["session", string][]) : []),
  ];
}

const refusal = (status: 429 | 503) =>
  new Problem(status, "too-many-streams", "Very many pages are open at once. Close some; this page tries again.", {
    retryAfter: 10,
  });
