import { RateLimiterMemory, RateLimiterRes } from "rate-limiter-flexible";
import { Problem } from "./http/problem";

interface Policy {
  /** how much one viewer may do in a minute */
  viewer: number;
  /**
   * and all who come from one address together: a class of 300 behind one address stays below it, one computer that
   * drops its cookies at each request does not
   */
  address: number;
  /** what is said when it was too much */
  words: string;
}

const POLICIES = {
  comment: { viewer: 20, address: 600, words: "That were many comments in a minute." },
  reaction: { viewer: 60, address: 3_000, words: "That were many reactions in a minute." },
  answer: { viewer: 20, address: 900, words: "That were many changes of an answer in a minute." },
  name: { viewer: 10, address: 900, words: "That were many changes of a name in a minute." },
  /** counted in spans */
  spans: { viewer: 2_000, address: 30_000, words: "This browser reports more than anybody can watch." },
  /** by a member, or a guest whom we know */
  visit: { viewer: 120, address: 12_000, words: "This page was opened very often in a minute." },
  /** by somebody new; nobody knows yet who it is */
  newcomer: { viewer: 1_500, address: 1_500, words: "This address opened very many pages in a minute." },
  edit: { viewer: 40, address: 900, words: "That were many changes in a minute." },
  /** saved by itself while somebody edits */
  draft: { viewer: 120, address: 3_000, words: "That were many changes of an edit in a minute." },
  invite: { viewer: 20, address: 600, words: "That were many invitations in a minute." },
  trial: { viewer: 10, address: 900, words: "The connection was tried very often in a minute." },
  setUp: { viewer: 60, address: 900, words: "That were many set-ups in a minute." },
  workspace: { viewer: 5, address: 300, words: "That were many workspaces in a minute." },
} satisfies Record<string, Policy>;

export type Limited = keyof typeof POLICIES;

/** Floods stop here. Counted in memory: a limit against nuisance need not agree between processes. */
export class DeedLimits {
  #viewers = limiters("viewer");
  #addresses = limiters("address");

  /**
   * Counts something that is done, before it is done.
   * @param viewer who does it, by any name that stays the same
   * @param points how much of it at once
   * @throws {Problem} 429 with the seconds to wait
   */
  async take(what: Limited, { viewer, address }: { viewer: string; address: string }, points = 1): Promise<void> {
    try {
      await this.#viewers[what].consume(viewer, points);
      await this.#addresses[what].consume(address, points);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const retryAfter = Math.ceil(refused.msBeforeNext / 1000);
      const message = `${POLICIES[what].words} Nothing was lost; go on in ${retryAfter} seconds.`;
      throw new Problem(429, "too-many", message, { retryAfter });
    }
  }
}

function limiters(by: "viewer" | "address"): Record<Limited, RateLimiterMemory> {
  return Object.fromEntries(
    Object.entries(POLICIES).map(([name, policy]) => [
      name,
      new RateLimiterMemory({ keyPrefix: `${name} ${by}`, points: policy[by], duration: 60 }),
    ]),
  ) as Record<Limited, RateLimiterMemory>;
}
