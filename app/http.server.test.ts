import { connect } from "node:net";
import { request, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import type { ServerBuild } from "react-router";
import { freshRuntime, newMember } from "../testing/server";
import { createHttpServer } from "./http.server";
import { ownPath } from "./services/guard.server";
import { inHand } from "#server/http/in-hand";
import type { Runtime } from "#server/runtime";

/** One route that says how much has come, in the form of a build. */
const build = {
  entry: { module: { default: () => new Response("page"), handleError: () => undefined } },
  routes: {
    echo: {
      id: "echo",
      path: "*",
      module: { action: async ({ request: r }: { request: Request }) => new Response(String((await r.text()).length)) },
    },
  },
  assets: { entry: { imports: [], module: "" }, routes: {}, url: "", version: "1" },
  publicPath: "/",
  assetsBuildDirectory: "",
  future: {},
  ssr: true,
  isSpaMode: false,
  prerender: [],
  routeDiscovery: { mode: "initial", manifestPath: "/__manifest" },
} as unknown as ServerBuild;

let runtime: Runtime;
let server: Server;
let port: number;
let cookie: string;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  const member = await newMember(runtime);
  cookie = `clear_nod_session=${await runtime.sessions.start(member.id)}`;
  server = createHttpServer(runtime, { build, assets: null, dev: null });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  port = (server.address() as AddressInfo).port;
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await runtime.close();
});

interface Answer {
  status: number;
  text: string;
}

/** A request as a program makes it, with any target and any fields. */
function ask(
  path: string,
  { method = "GET", headers = {}, body }: { method?: string; headers?: Record<string, string>; body?: Buffer[] } = {},
): Promise<Answer> {
  return new Promise((done, failed) => {
    const req = request({ host: "127.0.0.1", port, path, method, headers: { host: `localhost:${port}`, ...headers } });
    req.on("response", (res) => {
      let text = "";
      res.on("data", (part: Buffer) => (text += part.toString()));
      res.on("end", () => done({ status: res.statusCode!, text }));
      res.on("error", () => done({ status: res.statusCode!, text }));
    });
    req.on("error", failed);
    for (const part of body ?? []) req.write(part);
    req.end();
  });
}

/** What a server says to bytes, until it closes or falls silent for a while. */
function raw(text: string, forMs = 3_000): Promise<string> {
  return new Promise((done) => {
    const socket = connect(port, "127.0.0.1", () => socket.write(text));
    let said = "";
    socket.on("data", (part) => (said += part.toString()));
    const end = () => (socket.destroy(), done(said));
    socket.on("close", end).on("error", end);
    setTimeout(end, forMs);
  });
}

const zeros = (bytes: number) => Buffer.alloc(bytes, "0");

describe("bodies are bounded before any action sees them", () => {
  it.each([
    ["/sign-in", 16_384, "200"],
    ["/sign-in", 16_385, "413"],
    ["/sign-in.data", 16_385, "413"],
    ["/w/abc/spans", 65_536, "400"],
    ["/w/abc/spans", 65_537, "413"],
    ["/w/abc/say", 16_385, "413"],
    ["/recordings/abc", 16_385, "413"],
    ["/figures/abc", 16_385, "413"],
  ])("%s with %d bytes from a guest: %s", async (path, bytes, status) => {
    const { status: got } = await ask(path, { method: "POST", body: [zeros(bytes)] });
    expect(String(got)).toBe(status);
  });

  it("takes a form of who is signed in with as many letters as its fields take, in any script", async () => {
    const headers = { cookie };
    const description = encodeURIComponent("玻".repeat(4_000)).length;
    expect(description).toBeGreaterThan(16_384);
    const asked = async (bytes: number) =>
      (await ask("/takes", { method: "POST", headers, body: [zeros(bytes)] })).status;
    expect(await asked(description)).not.toBe(413);
    expect(await asked(65_537)).toBe(413);
  });

  it("takes a file of comments from who is signed in, up to 4 MiB", async () => {
    const headers = { cookie };
    const some = await ask("/figures/abc.data", { method: "POST", headers, body: [zeros(3_000_000)] });
    expect(some.status).not.toBe(413);
    expect((await ask("/figures/abc", { method: "POST", headers, body: [zeros(4_194_305)] })).status).toBe(413);
  });

  it("refuses what is announced too large without reading it, and what is not announced as soon as it is too much", async () => {
    const before = process.memoryUsage().arrayBuffers;
    const head = `POST /sign-in HTTP/1.1\r\nHost: localhost:${port}\r\n`;
    expect(await raw(`${head}Content-Length: 200000000\r\n\r\n`)).toMatch(/^HTTP\/1.1 413/);
    const chunk = `${(8192).toString(16)}\r\n${"x".repeat(8192)}\r\n`;
    expect(await raw(`${head}Transfer-Encoding: chunked\r\n\r\n${chunk.repeat(3)}`)).toMatch(/^HTTP\/1.1 413/);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(5_000_000);
  });
});

describe("bodies that do not end", () => {
  it("are so much of one, and gone when whoever sends them is", async () => {
    const one = `POST /figures/abc.data HTTP/1.1\r\nHost: localhost:${port}\r\nCookie: ${cookie}\r\n`;
    const part = zeros(4_000_000);
    const answers: string[] = [];
    const sockets = Array.from({ length: 40 }, () => {
      const socket = connect(port, "127.0.0.1", () => {
        socket.write(`${one}Content-Length: 4194304\r\n\r\n`);
        socket.write(part);
      });
      socket.on("data", (said) => answers.push(said.toString().slice(0, 12))).on("error", () => undefined);
      return socket;
    });
    // 33 of them are 128 MB; the rest is refused at once.
    await vi.waitUntil(() => answers.length >= 7, 10_000);
    expect(new Set(answers)).toEqual(new Set(["HTTP/1.1 503"]));
    expect(inHand.bytes).toBeLessThanOrEqual(128 * 1024 * 1024);
    for (const socket of sockets) socket.destroy();
    await vi.waitUntil(() => inHand.bytes === 0, 10_000);
  });
});

describe("names and targets", () => {
  it.each([
    ["localhost", 404],
    ["127.0.0.1:99", 404],
    ["evil.example", 421],
    ["localhost.evil.example", 421],
  ])("Host: %s is answered with %d", async (host, status) => {
    const answer = await ask("/healthz-not", { headers: { host } });
    expect(answer.status === 421).toBe(status === 421);
  });

  it.each(["OPTIONS * HTTP/1.1", "TRACE / HTTP/1.1", "GET http://evil.example/sign-in HTTP/1.1", "GET //[ HTTP/1.1"])(
    "%s is a bad request, not a failure",
    async (line) => {
      const said = await raw(`${line}\r\nHost: localhost:${port}\r\nConnection: close\r\n\r\n`);
      expect(said).toMatch(/^HTTP\/1.1 4\d\d/);
    },
  );

  it("no page of another site can send anything", async () => {
    const headers = { origin: "https://elsewhere.example", "sec-fetch-site": "cross-site" };
    expect((await ask("/sign-out", { method: "POST", headers, body: [] })).status).toBe(403);
  });
});

describe("where one goes after signing in", () => {
  it.each([
    ["/record", "/record"],
    ["/w/abc?x=1#t=2", "/w/abc?x=1#t=2"],
    ["//evil.example/x", "/library"],
    ["/\t/evil.example/x", "/library"],
    ["/\n//evil.example", "/library"],
    ["/\\evil.example", "/library"],
    ["/.//evil.example", "/library"],
    ["/x/..//evil.example", "/library"],
    ["https://evil.example", "/library"],
    ["javascript:alert(1)", "/library"],
    ["", "/library"],
    [null, "/library"],
  ])("%j leads to %s", (to, path) => expect(ownPath(to)).toBe(path));
});

describe("a database that is gone", () => {
  it("is said with 503 and when to come back, and forgotten when it is there again", async () => {
    const other = await freshRuntime(inject("databaseUrl"));
    let there = false;
    const gone = {
      ...other,
      db: {
        ...other.db,
        get reachable() {
          return there;
        },
      },
    } as Runtime;
    const second = createHttpServer(gone, { build, assets: null, dev: null });
    await new Promise<void>((done) => second.listen(0, "127.0.0.1", done));
    const at = `http://127.0.0.1:${(second.address() as AddressInfo).port}/readyz`;
    const refused = await fetch(at);
    expect([refused.status, refused.headers.get("retry-after")]).toEqual([503, "2"]);
    // It lives all the same, and is told so by any name.
    expect((await fetch(at.replace("readyz", "healthz"))).status).toBe(200);
    there = true;
    expect((await fetch(at)).status).toBe(200);
    second.closeAllConnections();
    await new Promise((done) => second.close(done));
    await other.close();
  });

  it("is said the same to whom it leaves in the middle of a question", async () => {
    const lost = Object.assign(new Error("read ECONNRESET"), { code: "ECONNRESET" });
    const asked = vi.spyOn(runtime.db, "rows").mockRejectedValueOnce(lost);
    const { status, text } = await ask("/readyz");
    expect([status, text]).toEqual([503, expect.stringContaining("no-database")]);
    // It is looked at now and then, however often it is asked.
    await expect.poll(async () => (await ask("/readyz")).status, { timeout: 5_000 }).toBe(200);
    asked.mockRestore();
  });
});
