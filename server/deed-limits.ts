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
  /** in how many seconds; a minute where nothing is said */
  seconds?: number;
  /** what is said when it was too much */
  words: string;
}

const POLICIES = {
  comment: { viewer: 20, address: 600, words: "That were many comments in a minute." },
  /** comments that are asked for besides those that came with the page */
  moreComments: { viewer: 240, address: 12_000, words: "Comments were asked for very often in a minute." },
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
  picture: { viewer: 20, address: 300, words: "That were many pictures in a minute." },
  /** recordings made as one file: a while of work each */
  film: { viewer: 20, address: 300, seconds: 3_600, words: "That were many files in an hour." },
  /** films sent to outside places, and places that are tried */
  sendOut: { viewer: 60, address: 600, seconds: 3_600, words: "That were many sendings in an hour." },
  invite: { viewer: 60, address: 900, words: "That were many invitations in a minute." },
  /** wrong passwords at one recording from one address; right ones are not counted */
  password: { viewer: 400, address: 800, seconds: 900, words: "That were many wrong passwords." },
  /** the same from everywhere, by recording: ten times a class */
  passwordAnywhere: { viewer: 3_000, address: 3_000, seconds: 900, words: "That were very many wrong passwords." },
  /** codes asked for one mail address from one network address: nobody keeps somebody else from theirs */
  code: { viewer: 5, address: 400, seconds: 900, words: "That were many codes." },
  codeTry: { viewer: 15, address: 900, seconds: 900, words: "That were many tries." },
  /** wrong tries of somebody who is signed in at their own password */
  ownPassword: { viewer: 10, address: 400, seconds: 900, words: "That were many wrong passwords." },
  /** short links that lead nowhere */
  shortMiss: { viewer: 30, address: 30, words: "Many of these links lead nowhere." },
  /** what a link is, told to a page that wants to show it */
  tell: { viewer: 600, address: 600, words: "Many links were asked for in a minute." },
  /** asked by a program */
  program: { viewer: 300, address: 3_000, words: "This program asks very often." },
  /** secrets of programs that open nothing */
  programMiss: { viewer: 30, address: 30, words: "Many of these secrets open nothing." },
  /** passkeys that are made or shown; nobody knows yet whose, so by address alone: a class signs in at once */
  passkey: { viewer: 1_500, address: 1_500, words: "Passkeys were asked for very often in a minute." },
  /** what a browser has shown by itself */
  shown: { viewer: 60, address: 3_000, words: "This browser shows more than it is told." },
  /** asked by a feed reader */
  feed: { viewer: 60, address: 3_000, words: "This feed is asked for very often." },
  /** addresses of feeds that open nothing */
  feedMiss: { viewer: 30, address: 30, words: "Many of these addresses open nothing." },
  /** everything of somebody, as one file */
  everything: { viewer: 4, address: 60, seconds: 3_600, words: "It was taken four times in an hour." },
  /** tries of addresses that are told */
  hook: { viewer: 10, address: 100, words: "That were many tries in a minute." },
  share: { viewer: 120, address: 1_200, words: "That were many changes of who may open it." },
  folder: { viewer: 240, address: 2_400, words: "That were many changes of folders in a minute." },
  /** mails, each for itself */
  send: { viewer: 500, address: 2_000, seconds: 3_600, words: "That were many mails in an hour." },
  trial: { viewer: 10, address: 900, words: "The connection was tried very often in a minute." },
  setUp: { viewer: 60, address: 900, words: "That were many set-ups in a minute." },
  workspace: { viewer: 5, address: 300, words: "That were many workspaces in a minute." },
} satisfies Record<string, Policy>;

export type Limited = keyof typeof POLICIES;
const policies: [Limited, Policy][] = Object.entries(POLICIES) as [Limited, Policy][];

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

  /** Gives back what was counted, where only what goes wrong is to count. */
  async giveBack(what: Limited, { viewer, address }: { viewer: string; address: string }): Promise<void> {
    await this.#viewers[what].reward(viewer, 1);
    await this.#addresses[what].reward(address, 1);
  }
}

function limiters(by: "viewer" | "address"): Record<Limited, RateLimiterMemory> {
  return Object.fromEntries(
    policies.map(([name, policy]) => [
      name,
      new RateLimiterMemory({ keyPrefix: `${name} ${by}`, points: policy[by], duration: policy.seconds ?? 60 }),
    ]),
  ) as Record<Limited, RateLimiterMemory>;
}
