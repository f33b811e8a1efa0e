import type { IncomingMessage } from "node:http";
import { BlockList, isIP } from "node:net";
import proxyAddr from "proxy-addr";

/** Which proxies are believed about where a request comes from: none, so many hops, or these networks. */
export type TrustProxy = number | string[];

/** Where a request comes from, for limits. */
export type AddressOf = (req: IncomingMessage) => string;

/**
 * Reads the address of a request: the peer's, or what trusted proxies say in `X-Forwarded-For`. An IPv6 address counts
 * as its /64 network, which is what one household or office has.
 */
export function addressReader(trust: TrustProxy): AddressOf {
  const trusted =
    typeof trust === "number" ? (_: string, hop: number) => hop < trust : proxyAddr.compile(trust as never);
  return (req) => networkOf(proxyAddr(req, trusted));
}

/** @returns an IPv4 address as it is, an IPv6 address as the first half of it */
export function networkOf(address: string | undefined): string {
  if (!address) return "unknown";
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return mapped;
  if (isIP(address) !== 6) return address;
  const [head = "", tail = ""] = address.split("%")[0]!.split("::");
  const front = head === "" ? [] : head.split(":");
  const back = tail === "" ? [] : tail.split(":");
  const groups = address.includes("::")
    ? [...front, ...Array<string>(Math.max(0, 8 - front.length - back.length)).fill("0"), ...back]
    : front;
  return `${groups
    .slice(0, 4)
    .map((g) => parseInt(g, 16).toString(16))
    .join(":")}::/64`;
}

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet("127.0.0.0", 8);
LOOPBACK.addAddress("::1", "ipv6");

/** Is this the name by which this computer calls itself? */
export function isLoopback(hostname: string): boolean {
  const bare = hostname.replace(/^\[|\]$/g, "");
  const family = isIP(bare);
  if (family === 0) return bare.toLowerCase() === "localhost";
  return LOOPBACK.check(bare, family === 6 ? "ipv6" : "ipv4");
}

/** Is a `Host` field one that we answer to: the one in our links, or this computer's own names (RFC 9110, 7.2)? */
export function isOurHost(host: string | undefined, publicUrl: string): boolean {
  if (!host) return false;
  if (host.toLowerCase() === new URL(publicUrl).host) return true;
  try {
    const { hostname, username, pathname } = new URL(`http://${host}/`);
    return username === "" && pathname === "/" && isLoopback(hostname);
  } catch {
    return false;
  }
}
