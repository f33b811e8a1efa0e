import { hash, verify } from "@node-rs/argon2";
import { Turns, type Whose } from "../turns";

// OWASP's figures for Argon2id (from memory: 19 MiB, 2 passes, 1 lane, or stronger).
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };
/** Hashes at once share the threads by which files are written: with more, segments would wait for passwords. */
const turns = new Turns({
  atOnce: 2,
  // A class of 300 behind one address, twice.
  waitingOfOne: 600,
  waiting: 2_000,
  busy: "Very many people sign in at this moment. Wait a few seconds, then try again.",
});

/** What a password is checked or kept for: none of them waits for all of another. */
export type PasswordLane = "known computer" | "sign-in" | "sign-up" | "link" | "own";

/** Whose it is: somebody who is known, or an address. */
export type PasswordOf = Whose & { lane: PasswordLane };

/** @throws {Problem} 503 when very many wait */
export const hashPassword = (password: string, whose: PasswordOf) => turns.take(whose, () => hash(password, OPTIONS));

let decoy: Promise<string> | undefined;

/**
 * Is it the password? Takes as long when there is no such member (`stored` null), so that nobody learns who has an
 * account.
 * @throws {Problem} 503 when very many wait
 */
export async function isPassword(stored: string | null, password: string, whose: PasswordOf): Promise<boolean> {
  decoy ??= hash("no one has this password", OPTIONS);
  const against = stored ?? (await decoy);
  const matches = await turns.take(whose, () => verify(against, password));
  return stored !== null && matches;
}
