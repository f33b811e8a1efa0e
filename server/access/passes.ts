import { createHmac, timingSafeEqual } from "node:crypto";
import { LRUCache } from "lru-cache";
import type { Pass } from "#core/access/access";

/** Passes that one browser keeps; the latest ones. */
const MOST = 30;
/** One pass: what it is, what it opens, of which link or password, and the signature; ids in 22 characters each. */
const ONE = /^([ipf])([\w-]{22})([\w-]{22})([\w-]{16})$/;
const KINDS = { i: "invite", p: "password", f: "folder" } as const;

/**
 * What a browser shows: the personal links by which it came, the passwords that it knew. All of it is in the browser's
 * cookie, signed, so that no page and no segment asks the database for it. What a pass is of decides whether it still
 * opens anything.
 */
export class Passes {
  /** The same cookie comes with every segment. */
  #read = new LRUCache<string, readonly Pass[]>({ max: 2_000 });

  constructor(private readonly secret: string) {}

  /** @returns the passes that are ours; what was made up is passed over */
  read(cookie: string | null): readonly Pass[] {
    if (!cookie || cookie.length > 4_000) return [];
    const known = this.#read.get(cookie);
    if (known) return known;
    const passes = cookie
      .split(".")
      .slice(0, MOST)
      .flatMap((one) => this.#readOne(one) ?? []);
    this.#read.set(cookie, passes);
    return passes;
  }

  /** What the cookie shall hold with one more. */
  add(cookie: string | null, pass: Pass): string {
    const added = this.#write(pass);
    const others = this.read(cookie)
      .map((p) => this.#write(p))
      .filter((p) => p !== added);
    return [added, ...others.slice(0, MOST - 1)].join(".");
  }

  #write({ to, by, of }: Pass): string {
    const said = by.charAt(0) + short(to) + short(of);
    return said + this.#sign(said);
  }

  #readOne(text: string): Pass | null {
    const match = ONE.exec(text);
    if (!match) return null;
    const [, kind, to, of, sign] = match as unknown as [string, keyof typeof KINDS, string, string, string];
    if (!timingSafeEqual(Buffer.from(sign), Buffer.from(this.#sign(text.slice(0, -sign.length))))) return null;
    return { by: KINDS[kind], to: long(to), of: long(of) };
  }

  #sign(said: string): string {
    return createHmac("sha256", this.secret).update(`pass ${said}`).digest("base64url").slice(0, 16);
  }
}

const short = (uuid: string) => Buffer.from(uuid.replaceAll("-", ""), "hex").toString("base64url");

function long(text: string): string {
  const hex = Buffer.from(text, "base64url").toString("hex");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
}
