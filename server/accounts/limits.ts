import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";

/**
 * Slows down guessing of passwords: per address and account, and per address over all accounts.
 * Counts are in PostgreSQL, so any number of app processes agree.
 */
export class SignInLimits {
  private constructor(
    private readonly perAccount: RateLimiterPostgres,
    private readonly perAddress: RateLimiterPostgres,
  ) {}

  static async open(db: Database): Promise<SignInLimits> {
    const make = (keyPrefix: string, points: number, duration: number) =>
      new Promise<RateLimiterPostgres>((done, failed) => {
        const limiter: RateLimiterPostgres = new RateLimiterPostgres(
          {
            storeClient: db.sequelize,
            storeType: "sequelize",
            tableName: "sign_in_attempts",
            keyPrefix,
            points,
            duration,
          },
          (error?: Error) => (error ? failed(error) : done(limiter)),
        );
      });
    return new SignInLimits(await make("account", 8, 15 * 60), await make("address", 60, 15 * 60));
  }

  /** Counts one attempt before it is checked. @throws {Problem} 429 with the seconds to wait */
  async attempt(address: string, email: string): Promise<void> {
    try {
      await this.perAddress.consume(address);
      await this.perAccount.consume(`${address} ${email}`);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const retryAfter = Math.ceil(refused.msBeforeNext / 1000);
      const minutes = Math.max(1, Math.ceil(retryAfter / 60));
      throw new Problem(
        429,
        "too-many-attempts",
        `Too many attempts. Wait ${minutes} minute${minutes === 1 ? "" : "s"}, then try again.`,
        { retryAfter },
      );
    }
  }

  /** Forgets the attempts on an account after the right password. */
  async succeeded(address: string, email: string): Promise<void> {
    await this.perAccount.delete(`${address} ${email}`);
  }
}
