import { hash, verify } from "@node-rs/argon2";
import { Problem } from "../http/problem";

// OWASP's figures for Argon2id (from memory: 19 MiB, 2 passes, 1 lane, or stronger).
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };
/** Hashes at once. They share the threads by which files are written: with more, segments would wait for passwords. */
const AT_ONCE = 2;
const MOST_WAITING = 60;

/** Lets some work run, keeps some waiting, and refuses the rest. */
class Gate {
  #running = 0;
  #waiting: (() => void)[] = [];

  async pass<T>(work: () => Promise<T>): Promise<T> {
    if (this.#running >= AT_ONCE) {
      if (this.#waiting.length >= MOST_WAITING) {
        const message = "Very many people sign in at this moment. Wait a few seconds, then try again.";
        throw new Problem(503, "busy", message, { retryAfter: 5 });
      }
      await new Promise<void>((go) => this.#waiting.push(go));
    } else this.#running++;
    try {
      return await work();
    } finally {
      // The place goes to the next in line, or is free.
      const next = this.#waiting.shift();
      if (next) next();
      else this.#running--;
    }
  }
}

const gate = new Gate();

/** @throws {Problem} 503 when very many wait */
export const hashPassword = (password: string) => gate.pass(() => hash(password, OPTIONS));

let decoy: Promise<string> | undefined;

/**
 * Is it the password? Takes as long when there is no such member (`stored` null), so that nobody learns who has an
 * account.
 * @throws {Problem} 503 when very many wait
 */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hash("no one has this password", OPTIONS);
  const against = stored ?? (await decoy);
  const matches = await gate.pass(() => verify(against, password));
  return stored !== null && matches;
}
