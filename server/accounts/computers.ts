import { createHmac, randomBytes, timingSafeEqual } from "node:crypto";

/** Accounts that one browser is remembered for. */
const MOST = 5;

/**
 * Computers on which an account has signed in before, so that strangers who guess at an account cannot lock its owner
 * out there. All of it is in the browser's cookie, signed: `<computer>.<sign>.<sign>…`, a sign for each account.
 */
export class Computers {
  constructor(private readonly secret: string) {}

  /** @returns the computer, if its cookie says that this account has signed in there */
  knownFor(cookie: string | null, email: string): string | null {
    const { computer, signs } = read(cookie);
    if (!computer) return null;
    const sign = Buffer.from(this.#sign(computer, email));
    const known = signs.some((s) => s.length === sign.length && timingSafeEqual(Buffer.from(s), sign));
    return known ? computer : null;
  }

  /** What the cookie shall hold after this account has signed in. */
  remember(cookie: string | null, email: string): string {
    const { computer, signs } = read(cookie);
    const name = computer ?? randomBytes(12).toString("base64url");
    const sign = this.#sign(name, email);
    return [name, sign, ...signs.filter((s) => s !== sign).slice(0, MOST - 1)].join(".");
  }

  #sign(computer: string, email: string): string {
    return createHmac("sha256", this.secret).update(`computer ${computer} ${email}`).digest("base64url").slice(0, 22);
  }
}

function read(cookie: string | null): { computer: string | null; signs: string[] } {
  const [computer, ...signs] = (cookie ?? "").split(".");
  const sound = /^[\w-]{16}$/.test(computer ?? "") && signs.every((s) => /^[\w-]{22}$/.test(s));
  return sound ? { computer: computer!, signs: signs.slice(0, MOST) } : { computer: null, signs: [] };
}
