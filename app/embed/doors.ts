import { kept } from "../kept";

/** Is this page an embed: the player in a page of another site? */
const isEmbed = (): boolean => location.pathname.startsWith("/e/");

/** Where the page of a link sends what is said and watched. Embeds have doors of their own, which know no account. */
export const doorAt = (token: string, where: "visit" | "say" | "spans" | "enter" | "comments"): string =>
  `/${isEmbed() ? "e" : "w"}/${token}/${where}`;

const KEY = "clear-nod-guest";
let key: string | null = null;

/**
 * By what the server knows the browser of an embed where no cookie comes along: a key that the page keeps itself, or as
 * long as it is open where it may keep nothing.
 */
export function guestHeaders(): Record<string, string> {
  const known = isEmbed() ? (key ??= kept.get(KEY)) : null;
  return known === null ? {} : { "clear-nod-guest": known };
}

export function keepGuestKey(made: string): void {
  key = made;
  kept.set(KEY, made);
}

/**
 * Several embeds of one page that is opened for the first time would each be another guest: one after the other, until
 * there is a key.
 */
export async function oneByOne<T>(work: () => Promise<T>): Promise<T> {
  if (!isEmbed() || kept.get(KEY) !== null || !("locks" in navigator)) return work();
  let begun = false;
  const begin = () => {
    begun = true;
    return work();
  };
  // A browser that keeps nothing for other sites' pages has no locks for them either.
  return (navigator.locks.request(KEY, begin) as Promise<T>).catch((refused: unknown) => {
    if (begun) throw refused;
    return work();
  });
}
