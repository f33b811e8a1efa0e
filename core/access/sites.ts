/** Sites of one workspace that may show its recordings in their pages. */
export const MOST_SITES = 50;

const ANY_BELOW = "*.";
/** Stands for the asterisk while an address is read as one. */
const STAND_IN = "any-below.";

/**
 * A site by its origin, as somebody gives it: the address of one of its pages, a bare name (taken as https), or
 * `https://*.example.org` for all below a name.
 * @returns the origin in its usual form, which is a `host-source` of a policy; null for what is none
 * Source: RFC 6454, 6.2; W3C Content Security Policy Level 3, 2.3.1.
 */
export function readSite(given: string): string | null {
  const text = given.trim();
  const [, scheme, rest = ""] = /^(https?:\/\/)?(.*)$/i.exec(text)!;
  const below = rest.startsWith(ANY_BELOW);
  const address = (scheme ?? "https://") + (below ? STAND_IN + rest.slice(ANY_BELOW.length) : rest);
  // A word alone is rather a slip than a name; another scheme would read as a name.
  if (!scheme && !/^(?:localhost\b|[^/]+\.)/i.test(rest)) return null;
  if (/[\s,;'"*]/.test(address) || rest.includes("://") || !URL.canParse(address)) return null;
  const { protocol, host, hostname, username, password } = new URL(address);
  if (username !== "" || password !== "" || !isName(hostname)) return null;
  if (!below) return `${protocol}//${host}`;
  // Everything below `org` is not one site.
  const name = host.slice(STAND_IN.length);
  return /[a-z]/.test(hostname) && name.split(":")[0]!.includes(".") && !/^[\d.]+(?::|$)/.test(name)
    ? `${protocol}//${ANY_BELOW}${name}`
    : null;
}

/** A name of the network, an address of it, or this computer: what a policy can name. */
const isName = (hostname: string) => /^(?:[a-z\d-]+\.)*[a-z\d-]+$/.test(hostname);
