import type { IncomingMessage } from "node:http";
import { describe, expect, it } from "vitest";
import { addressReader, isOurHost, networkOf } from "./address";

const from = (peer: string, forwarded?: string) =>
  ({
    headers: forwarded === undefined ? {} : { "x-forwarded-for": forwarded },
    socket: { remoteAddress: peer },
    connection: { remoteAddress: peer },
  }) as unknown as IncomingMessage;

describe("where a request comes from", () => {
  it.each([
    ["nobody is believed", 0, "10.0.0.7", "198.51.100.1", "10.0.0.7"],
    ["one hop is believed", 1, "10.0.0.7", "198.51.100.1", "198.51.100.1"],
    ["one hop, and a forged one before it", 1, "10.0.0.7", "1.2.3.4, 198.51.100.1", "198.51.100.1"],
    ["a network is believed", ["loopback", "10.0.0.0/8"], "10.0.0.7", "198.51.100.1, 10.1.1.1", "198.51.100.1"],
    ["another network speaks", ["10.0.0.0/8"], "203.0.113.9", "198.51.100.1", "203.0.113.9"],
    ["nothing is said", 1, "10.0.0.7", undefined, "10.0.0.7"],
  ] as const)("%s", (_, trust, peer, forwarded, address) =>
    expect(addressReader(trust as number | string[])(from(peer, forwarded))).toBe(address),
  );

  it.each([
    ["::ffff:203.0.113.9", "203.0.113.9"],
    ["2001:db8:1:2:3:4:5:6", "2001:db8:1:2::/64"],
    ["2001:db8::6", "2001:db8:0:0::/64"],
    ["::1", "0:0:0:0::/64"],
    ["fe80::1%eth0", "fe80:0:0:0::/64"],
    [undefined, "unknown"],
  ])("%s is limited as %s", (address, network) => expect(networkOf(address)).toBe(network));
});

describe("names that we answer to", () => {
  const ours = "https://nod.glasshouse.test:8443";
  it.each([
    ["nod.glasshouse.test:8443", true],
    ["NOD.glasshouse.test:8443", true],
    ["localhost:5180", true],
    ["127.0.0.1", true],
    ["127.8.8.8:99", true],
    ["[::1]:5180", true],
    ["nod.glasshouse.test", false],
    ["evil.example", false],
    ["localhost.evil.example", false],
    ["localhost@evil.example", false],
    ["127.0.0.1.evil.example", false],
    ["10.0.0.1", false],
    ["a b", false],
    ["", false],
    [undefined, false],
  ])("%s: %s", (host, known) => expect(isOurHost(host, ours)).toBe(known));
});
