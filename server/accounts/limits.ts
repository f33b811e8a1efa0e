import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";

const QUARTER = 15 * 60;
const HOUR = 3600;

/**
 * How often, by whom, in which time. Only wrong tries count for long: a right one gives its own back. Whoever signed in
 * on a computer before has a bucket of their own there, which strangers cannot empty.
 */
const BUCKETS = {
  /** on a computer where this account signed in before */
  known: { points: 10, duration: QUARTER },
  /** one account from one address */
  here: { points: 8, duration: QUARTER },
  /** one account from everywhere */
  account: { points: 60, duration: QUARTER },
  /** one address over all accounts: more than two wrong tries of everybody in a class of 300 */
  address: { points: 800, duration: QUARTER },
  /** and when that is used up: slow, but nobody behind it is shut out for a quarter of an hour by somebody else */
  addressSlowly: { points: 30, duration: 60 },
  /** new accounts from one address */
  signUp: { points: 400, duration: HOUR },
} as const;

type Bucket = keyof typeof BUCKETS;

export interface Attempt {
  /** where it comes from */
  address: string;
  email: string;
  /** the computer, if this account has signed in there before */
  computer: string | null;
}

/** Slows down guessing of passwords. Counts are in PostgreSQL, so any number of app processes agree. */
export class SignInLimits {
  private constructor(private readonly buckets: Record<Bucket, RateLimiterPostgres>) {}

  static async open(db: Database): Promise<SignInLimits> {
    const open = (keyPrefix: string, limits: { points: number; duration: number }) =>
      new Promise<RateLimiterPostgres>((done, failed) => {
        const limiter: RateLimiterPostgres = new RateLimiterPostgres(
          { storeClient: db.sequelize, storeType: "sequelize", tableName: "sign_in_attempts", keyPrefix, ...limits },
          (error?: Error) => (error ? failed(error) : done(limiter)),
        );
      });
    const names = Object.keys(BUCKETS) as Bucket[];
    // One after the other: each makes the table if it is not there.
    const opened: [Bucket, RateLimiterPostgres][] = [];
    for (const name of names) opened.push([name, await open(name, BUCKETS[name])]);
    return new SignInLimits(Object.fromEntries(opened) as Record<Bucket, RateLimiterPostgres>);
  }

  /** Counts one attempt before it is checked. @throws {Problem} 429 with the seconds to wait */
  async attempt(attempt: Attempt): Promise<void> {
    const { address, email, computer } = attempt;
    if (computer) return this.#take("known", `${computer} ${email}`);
    if (!(await this.#mayTake("address", address))) await this.#take("addressSlowly", address);
    await this.#take("here", `${address} ${email}`);
    await this.#take("account", email);
  }

  /** The right password: the attempt is given back, and those on this account from here are forgotten. */
  async succeeded(attempt: Attempt): Promise<void> {
    const { address, email, computer } = attempt;
    if (computer) return void (await this.buckets.known.delete(`${computer} ${email}`));
    await this.buckets.here.delete(`${address} ${email}`);
    await this.buckets.account.reward(email);
    await this.buckets.address.reward(address);
  }

  /** Counts a new account. @throws {Problem} 429 */
  async signUp(address: string): Promise<void> {
    await this.#take("signUp", address);
  }

  async #mayTake(bucket: Bucket, key: string): Promise<boolean> {
    return (await this.#consumed(bucket, key)) === null;
  }

  async #take(bucket: Bucket, key: string): Promise<void> {
    const refused = await this.#consumed(bucket, key);
    if (!refused) return;
    const retryAfter = Math.ceil(refused.msBeforeNext / 1000);
    const minutes = Math.max(1, Math.ceil(retryAfter / 60));
    const wait = `Wait ${minutes} minute${minutes === 1 ? "" : "s"}, then try again.`;
    throw new Problem(429, "too-many-attempts", `Too many attempts. ${wait}`, { retryAfter });
  }

  /** @returns null where there was one left */
  async #consumed(bucket: Bucket, key: string): Promise<RateLimiterRes | null> {
    try {
      await this.buckets[bucket].consume(key);
      return null;
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      return refused;
    }
  }
}
