import { Readable } from "node:stream";
import { createServer, type Server } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { askOutward, isPublicAddress, PrivateAddress, sendOutward } from "./outward";

let server: Server;
let port: number;
beforeAll(async () => {
  server = createServer((req, res) => {
    if (req.url === "/slow") return;
    if (req.url === "/elsewhere") return void res.writeHead(302, { location: "/here" }).end();
    if (req.url === "/large") return void res.end("x".repeat(5_000_000));
    let said = "";
    req.on("data", (part: Buffer) => (said += part.toString())).on("end", () => res.writeHead(201).end(`had ${said}`));
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  port = (server.address() as { port: number }).port;
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
});

const limits = { withinMs: 5_000, mostBytes: 100, allows: () => true };
const post = (address: string, more = {}) =>
  sendOutward(new URL(address), { headers: { "x-a": "b" }, body: "words" }, { ...limits, ...more });

// Source: the IANA IPv4 and IPv6 special-purpose address registries (RFC 6890), from memory.
describe("an address of the public network", () => {
  it.each(["8.8.8.8", "93.184.216.34", "172.15.255.255", "172.32.0.1", "2606:4700::1111", "2a00:1450::1"])(
    "%s is one",
    (address) => expect(isPublicAddress(address)).toBe(true),
  );
  it.each([
    ...["0.0.0.0", "10.1.2.3", "100.64.0.1", "127.0.0.1", "127.9.9.9", "169.254.169.254", "172.16.0.1", "172.31.9.9"],
    ...["192.168.1.1", "192.0.2.1", "198.18.0.1", "198.51.100.3", "203.0.113.9", "224.0.0.1", "255.255.255.255"],
    ...["::", "::1", "::ffff:10.0.0.1", "::ffff:8.8.8.8", "64:ff9b::a00:1", "fc00::1", "fd12::1", "fe80::1", "ff02::1"],
    ...["2001:db8::1", "2001::1", "2002:7f00:1::", "3fff::1", "localhost", "", "1.2.3"],
  ])("%s is none", (address) => expect(isPublicAddress(address)).toBe(false));
});

describe("what is sent to an address that somebody gave", () => {
  it("arrives, and the answer's beginning is kept", async () => {
    expect(await post(`http://127.0.0.1:${port}/here`)).toMatchObject({ status: 201, text: "had words" });
    const stream = () => Readable.from([Buffer.from("wo"), Buffer.from("rds")]);
    const asked = (body: Readable) =>
      askOutward(
        new URL(`http://127.0.0.1:${port}/here`),
        { method: "PUT", headers: {}, body: { stream: body, length: 5 } },
        limits,
      );
    expect(await asked(stream())).toMatchObject({ status: 201, text: "had words" });
    // What cannot be read is not sent for whole.
    const broken = stream().on("data", () => broken.destroy(new Error("gone")));
    await expect(asked(broken)).rejects.toThrow("gone");
    expect((await post(`http://localhost:${port}/large`)).text.length).toBe(100);
  });
  it("follows nobody elsewhere", async () => {
    expect((await post(`http://127.0.0.1:${port}/elsewhere`)).status).toBe(302);
  });
  it.each([
    "http://127.0.0.1",
    "http://localhost",
    "http://[::1]",
    "http://[::ffff:127.0.0.1]",
    // As an URL is read, these are 127.0.0.1 as well (WHATWG URL, the IPv4 parser).
    "http://2130706433",
    "http://0x7f.1",
    "http://127.1",
  ])("does not go to %s", async (address) => {
    const sent = post(`${address}:${port}/here`, { allows: isPublicAddress });
    await expect(sent).rejects.toBeInstanceOf(PrivateAddress);
  });
  it("is given up where nobody answers in time", async () => {
    await expect(post(`http://127.0.0.1:${port}/slow`, { withinMs: 300 })).rejects.toMatchObject({
      name: "AbortError",
    });
    await expect(post("http://127.0.0.1:1/here")).rejects.toMatchObject({ code: "ECONNREFUSED" });
  });
});
