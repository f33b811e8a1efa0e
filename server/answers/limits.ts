import { RateLimiterMemory, RateLimiterRes } from "rate-limiter-flexible";
import { Problem } from "../http/problem";

/** How often one viewer may say something, and one address make itself known; each in a minute. */
const PER_MINUTE = { comment: 20, reaction: 60, answer: 20, name: 10, spans: 120, visit: 240, invite: 20 } as const;
export type Limited = keyof typeof PER_MINUTE;
const WORDS: Record<Limited, string> = {
  comment: "That were many comments in a minute.",
  reaction: "That were many reactions in a minute.",
  answer: "That were many changes of an answer in a minute.",
  name: "That were many changes of a name in a minute.",
  spans: "This browser reports more than anybody can watch.",
  visit: "This address opened very many pages in a minute.",
  invite: "That were many invitations in a minute.",
};

/** Floods stop here. Counted in memory: a limit against nuisance need not agree between processes. */
export class AnswerLimits {
  #limiters = Object.fromEntries(
    Object.entries(PER_MINUTE).map(([name, points]) => [name, new RateLimiterMemory({ points, duration: 60 })]),
  ) as Record<Limited, RateLimiterMemory>;

  /** @throws {Problem} 429 with the seconds to wait */
  async take(what: Limited, who: string): Promise<void> {
    try {
      await this.#limiters[what].consume(who);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const retryAfter = Math.ceil(refused.msBeforeNext / 1000);
      throw new Problem(429, "too-many", `${WORDS[what]} Nothing was lost; go on in ${retryAfter} seconds.`, {
        retryAfter,
      });
    }
  }
}
