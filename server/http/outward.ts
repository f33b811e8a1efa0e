import { lookup as lookUp, type LookupAddress } from "node:dns";
import { request as httpRequest, type IncomingHttpHeaders, type RequestOptions } from "node:http";
import { request as httpsRequest } from "node:https";
import type { Readable } from "node:stream";
import { BlockList, isIP, type LookupFunction } from "node:net";
import { isLoopback } from "./address";

/** An address that somebody has given is not asked, because it is one of a private network, or of this computer. */
export class PrivateAddress extends Error {}

/** Not of the public network. Source: the IANA registries of special-purpose addresses (RFC 6890), from memory. */
const PRIVATE = new BlockList();
for (const [net, bits] of [
  ...([
    ["0.0.0.0", 8],
    ["10.0.0.0", 8],
    ["100.64.0.0", 10],
    ["127.0.0.0", 8],
    ["169.254.0.0", 16],
  ] as const),
  ...([
    ["172.16.0.0", 12],
    ["192.0.0.0", 24],
    ["192.0.2.0", 24],
    ["192.88.99.0", 24],
    ["192.168.0.0", 16],
  ] as const),
  ...([
    ["198.18.0.0", 15],
    ["198.51.100.0", 24],
    ["203.0.113.0", 24],
    ["224.0.0.0", 4],
    ["240.0.0.0", 4],
  ] as const),
])
  PRIVATE.addSubnet(net, bits, "ipv4");
/** The public part of IPv6 (2000::/3), and what of it is not. */
const GLOBAL = new BlockList();
GLOBAL.addSubnet("2000::", 3, "ipv6");
for (const [net, bits] of [
  ["2001::", 23],
  ["2001:db8::", 32],
  ["2002::", 16],
  ["3fff::", 20],
] as const)
  PRIVATE.addSubnet(net, bits, "ipv6");

/** Is this an address of the public network? One that stands for an IPv4 address within IPv6 is none. */
export function isPublicAddress(address: string): boolean {
  const family = isIP(address);
  if (family === 4) return !PRIVATE.check(address, "ipv4");
  return family === 6 && GLOBAL.check(address, "ipv6") && !PRIVATE.check(address, "ipv6");
}

/** An address that names nobody. Words of people go there, so nobody reads along: by https, or to this computer. */
export function isClosedAddress(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { protocol, hostname, username, password } = new URL(text);
  const closed = protocol === "https:" || (protocol === "http:" && isLoopback(hostname));
  return closed && username === "" && password === "";
}

/** What is asked of an address. */
export interface Asking {
  method: string;
  headers: Record<string, string | number>;
  /** nothing, words, or what is read as it is taken: then its length is told */
  body?: string | Buffer | { stream: Readable; length: number };
}

export interface Answered {
  status: number;
  headers: IncomingHttpHeaders;
  /** the beginning of what was said */
  text: string;
}

interface Limits {
  /** so long nothing may come or go */
  withinMs: number;
  signal?: AbortSignal;
  /** of the answer; the rest is not read */
  mostBytes: number;
  /** may an address like this be asked? */
  allows: (address: string) => boolean;
}

/**
 * Sends something to an address that a person has given. Which computer that is is looked up once, checked, and asked:
 * no name leads elsewhere meanwhile. No redirect is followed.
 * @throws {PrivateAddress} where it is not of the public network; {Error} where nobody answers in time
 */
export const sendOutward = (
  url: URL,
  sent: { headers: Record<string, string | number>; body: string | Buffer },
  { withinMs, ...limits }: Limits,
): Promise<Answered> =>
  askOutward(url, { method: "POST", ...sent }, { ...limits, withinMs, signal: AbortSignal.timeout(withinMs) });

/**
 * Asks something of an address that a person has given, in the same way; for as long as something comes or goes.
 * @throws as `sendOutward`
 */
export function askOutward(
  url: URL,
  { method, headers, body = "" }: Asking,
  { withinMs, mostBytes, allows, signal }: Limits,
): Promise<Answered> {
  const hostname = url.hostname.replace(/^\[|\]$/g, "");
  // An address in the place of a name is not looked up.
  if (isIP(hostname) !== 0 && !allows(hostname)) return Promise.reject(refused());
  const options: RequestOptions = {
    method,
    headers: { ...headers, "content-length": String(lengthOf(body)) },
    lookup: checkedLookup(allows),
    timeout: withinMs,
    signal,
    agent: false,
  };
  return new Promise((done, failed) => {
    const request = (url.protocol === "https:" ? httpsRequest : httpRequest)(url, options, (answer) => {
      const parts: Buffer[] = [];
      let size = 0;
      const finish = () => {
        const text = Buffer.concat(parts).subarray(0, mostBytes).toString("utf8").replaceAll("\0", "");
        done({ status: answer.statusCode ?? 0, headers: answer.headers, text });
      };
      answer.on("data", (part: Buffer) => {
        parts.push(part);
        size += part.length;
        if (size < mostBytes) return;
        finish();
        answer.destroy();
      });
      answer.on("end", finish).on("error", failed);
    });
    request.on("timeout", () => request.destroy(new Error("Nobody answers.")));
    request.on("error", failed);
    if (typeof body === "string" || Buffer.isBuffer(body)) return void request.end(body);
    // What cannot be read ends the request; an answer that comes before all was taken is the answer.
    body.stream.on("error", (error: Error) => request.destroy(error)).pipe(request);
    request.on("close", () => body.stream.destroy());
  });
}

const lengthOf = (body: NonNullable<Asking["body"]>) =>
  typeof body === "string" || Buffer.isBuffer(body) ? Buffer.byteLength(body) : body.length;

/** Looks a name up as usual, and gives only what may be asked. */
const checkedLookup =
  (allows: (address: string) => boolean): LookupFunction =>
  (hostname, options, done) => {
    lookUp(hostname, { ...options, all: true }, (error, found: LookupAddress[]) => {
      if (error) return done(error, []);
      // One that leads to both is a trick.
      if (found.length === 0 || found.some(({ address }) => !allows(address))) return done(refused(), []);
      if (options.all) done(null, found);
      else done(null, found[0]!.address, found[0]!.family);
    });
  };

const refused = () => new PrivateAddress("This address is of a private network, or of this computer.");
