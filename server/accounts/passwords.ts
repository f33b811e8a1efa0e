import { hash, verify } from "@node-rs/argon2";

// OWASP's figures for Argon2id (from memory: 19 MiB, 2 passes, 1 lane, or stronger).
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string) => hash(password, OPTIONS);

let decoy: Promise<string> | undefined;

/**
 * Is it the password? Takes as long when there is no such member (`stored` null), so that nobody learns who has an
 * account.
 */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hashPassword("no one has this password");
  const matches = await verify(stored ?? (await decoy), password);
  return stored !== null && matches;
}
