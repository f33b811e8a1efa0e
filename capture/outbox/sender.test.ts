import { describe, expect, it, vi } from "vitest";
import { backOff, digestOf, Sender } from "./sender";
import type { Entry } from "#core/layout/entry";
import { bytes, keptTake, MemoryStore, ok } from "../../testing/store";

const refuse = (status: number, error: string) =>
  new Response(JSON.stringify({ error, message: `said ${error}` }), { status });

const stored = async (kind: "screen", number: number) => ({
  takeId: "t1",
  kind,
  number,
  digest: await digestOf(bytes(1)),
  bytes: bytes(1),
});

/** A sender whose server answers as told, and whose waits end when the test says so. */
function rig(answer: (url: string, init: RequestInit) => Response | Promise<Response>) {
  const store = new MemoryStore();
  const asked: string[] = [];
  const waits: { ms: number; end: () => void }[] = [];
  const sender = new Sender(keptTake(), store, {
    fetch: async (url, init) => {
      asked.push(`${init.method} ${url.replace("/ingest/t1", "")}`);
      return answer(url, init);
    },
    wait: (ms) => new Promise((end) => waits.push({ ms, end })),
    onChange: () => undefined,
  });
  return { store, asked, waits, sender };
}

describe("sending the parts of a take", () => {
  it("waits for the init segment before it sends what needs it, and forgets only what was acknowledged", async () => {
    let open = () => {};
    const gate = new Promise<void>((done) => (open = done));
    const { sender, store, asked } = rig(async (url) => {
      if (url.endsWith("init")) await gate;
      return ok();
    });
    for (const n of [0, 1, 2]) await sender.add("screen", n, bytes(n + 1));
    await vi.waitFor(() => expect(asked).toEqual(["PUT /screen/init"]));
    expect(store.kept.size).toBe(3);
    expect(sender.state).toMatchObject({ parts: 3, bytes: 6, hold: null });
    open();
    await vi.waitFor(() => expect(sender.state.parts).toBe(0));
    expect(asked).toEqual(["PUT /screen/init", "PUT /screen/1", "PUT /screen/2"]);
    expect(store.unsent).toBe(0);
  });

  it("has each part on this computer before anything is sent, with its digest", async () => {
    const seen: [string, number][] = [];
    const { sender, store } = rig((_url, init) => {
      seen.push([(init.headers as Record<string, string>)["content-digest"]!, store.kept.size]);
      return ok();
    });
    await sender.add("microphone", 0, bytes(3));
    await vi.waitFor(() => expect(sender.state.parts).toBe(0));
    // Outside check: SHA-256 of the three bytes 03 03 03, by coreutils' sha256sum and base64.
    expect(seen).toEqual([["sha-256=:mfXrZGh8x7d5S4vpCzdFkrhbAaJoioidLKb9c3aKblI=:", 1]]);
  });

  it("tells what happened in the take at once, keeps it until it was heard, and before the end", async () => {
    const scene = (n: number, version = 1): Entry => ({
      id: `e${n}`,
      version,
      kind: "scene",
      at: n,
      body: { layers: [] },
    });
    let online = false;
    const told: string[] = [];
    const { sender, store, waits } = rig((url, init) => {
      if (!online) throw new TypeError("no network");
      const { entries } = JSON.parse((init.body as string | undefined) ?? "{}") as { entries?: Entry[] };
      told.push(url.split("/").at(-1)! + (entries ?? []).map((e) => ` ${e.id}v${e.version}`).join(""));
      return url.endsWith("/finish") ? ok({ state: "complete" }) : ok();
    });
    await sender.write(scene(1));
    await sender.write(scene(2));
    // Changed before anybody heard of it: told once, as it is now.
    await sender.write(scene(1, 2));
    expect(store.known.get("t1")!.entries.map((e) => [e.id, e.version])).toEqual([
      ["e2", 1],
      ["e1", 2],
    ]);
    const finished = sender.finish({});
    await vi.waitFor(() => expect(waits).toHaveLength(1));
    expect(told).toEqual([]);
    expect(sender.state.hold).toBe("offline");
    online = true;
    waits[0]!.end();
    await finished;
    expect(told).toEqual(["entries e2v1 e1v2", "finish"]);
    expect(store.known.size).toBe(0);
  });

  it("sends hundreds of entries in parts, and does not let one that is refused keep the end", async () => {
    const sizes: number[] = [];
    const { sender } = rig((url, init) => {
      if (url.endsWith("/finish")) return ok({ state: "complete" });
      const { entries } = JSON.parse(init.body as string) as { entries: Entry[] };
      sizes.push(entries.length);
      return sizes.length === 2 ? refuse(422, "not-valid") : ok();
    });
    sender.take.entries = Array.from({ length: 450 }, (_, i) => ({
      id: `e${i}`,
      version: 1,
      kind: "scene",
      at: i,
      body: null,
    }));
    await sender.finish({});
    expect(sizes).toEqual([200, 200, 50]);
    expect(sender.state.complete).toBe(true);
  });

  it("reads every answer to its end, without which a browser keeps the request and its body", async () => {
    const answers: Response[] = [];
    const { sender } = rig((url) => {
      const busy = url.endsWith("/1") && answers.length < 3;
      answers.push(busy ? refuse(503, "busy") : ok({ state: "complete" }));
      return answers.at(-1)!;
    });
    for (const n of [0, 1]) await sender.add("screen", n, bytes(n + 1));
    await sender.note(false);
    await vi.waitFor(() => expect(sender.state.hold).toBe("server"));
    sender.wake();
    await vi.waitFor(() => expect(sender.state.parts).toBe(0));
    await sender.finish({ screen: 1 });
    await sender.discard();
    expect(answers.length).toBeGreaterThan(5);
    expect(answers.filter((answer) => !answer.bodyUsed)).toEqual([]);
  });

  it("sends the newest from memory, gives that memory back, and reads from the disk what has to wait", async () => {
    let online = true;
    const { sender, store } = rig(() => (online ? ok() : Promise.reject(new TypeError("no network"))));
    const get = vi.spyOn(store, "get");
    // Browsers have it; this Node does not yet.
    const transfer = vi.fn();
    const sent = Object.assign(bytes(7), { transfer });
    await sender.add("screen", 0, sent);
    await vi.waitFor(() => expect(sender.state.parts).toBe(0));
    expect(get).not.toHaveBeenCalled();
    expect(transfer.mock.calls).toEqual([[0]]);

    online = false;
    for (let n = 1; n <= 20; n++) await sender.add("screen", n, bytes(n));
    await vi.waitFor(() => expect(sender.state.hold).toBe("offline"));
    online = true;
    sender.wake();
    await vi.waitFor(() => expect(sender.state.parts).toBe(0));
    // Eight were held; of them the one that failed, and all the others, were read.
    expect(get.mock.calls.length).toBeGreaterThanOrEqual(12);
    expect(store.unsent).toBe(0);
  });

  it("keeps everything off line, says so, and goes on by itself, waiting longer each time", async () => {
    let online = false;
    const { sender, store, waits } = rig(() => (online ? ok() : Promise.reject(new TypeError("no network"))));
    await sender.add("screen", 0, bytes(4));
    await sender.add("screen", 1, bytes(5));
    for (const ms of [1000, 2000, 4000]) {
      await vi.waitFor(() => expect(waits.at(-1)?.ms).toBe(ms));
      expect(sender.state).toMatchObject({ hold: "offline", parts: 2, bytes: 9 });
      waits.at(-1)!.end();
    }
    await vi.waitFor(() => expect(waits.length).toBe(4));
    online = true;
    sender.wake();
    await vi.waitFor(() => expect(sender.state).toMatchObject({ hold: null, parts: 0, bytes: 0 }));
    expect(store.unsent).toBe(0);
  });

  it.each([
    [401, "signed-out", "signed-out"],
    [403, "not-a-member", "refused"],
    [409, "take-closed", "refused"],
    [422, "wrong-digest", "server"],
    [429, "too-many", "server"],
    [503, "no-database", "server"],
  ] as const)("%d %s is told as %s, and the part is kept", async (status, error, hold) => {
    const { sender, store } = rig(() => refuse(status, error));
    await sender.add("screen", 0, bytes(1));
    await vi.waitFor(() => expect(sender.state).toMatchObject({ hold, message: `said ${error}`, parts: 1 }));
    expect(store.kept.size).toBe(1);
  });

  it("ends a track before a part that is refused for good, and keeps that here", async () => {
    const finished: unknown[] = [];
    const { sender, store, asked } = rig((url, init) => {
      if (url.endsWith("/camera/2")) return refuse(422, "wrong-length");
      if (!url.endsWith("finish")) return ok();
      finished.push(JSON.parse(init.body as string));
      return ok({ state: "complete" });
    });
    for (const n of [0, 1, 2, 3]) {
      await sender.add("camera", n, bytes(n + 1));
      await sender.add("microphone", n, bytes(n + 1));
    }
    await vi.waitFor(() => expect(sender.state).toMatchObject({ parts: 0, bytes: 0, hold: null }));
    // What comes of it later is not sent at all.
    await sender.add("camera", 4, bytes(9));
    await sender.add("microphone", 4, bytes(9));
    await sender.finish({ camera: 4, microphone: 4 });
    expect(finished).toEqual([{ expected: { camera: 1, microphone: 4 } }]);
    expect(sender.state.complete).toBe(true);
    expect(asked.filter((one) => one.includes("/camera/4"))).toEqual([]);
    expect([sender.take.endsBefore, sender.take.stays]).toEqual([{ camera: 2 }, true]);
    expect(store.known.get("t1")).toMatchObject({ endsBefore: { camera: 2 }, stays: true });
    expect([...store.kept.keys()].filter((name) => name.includes("camera"))).toHaveLength(4);
  });

  it("counts what is still on its way when a track ends before it", async () => {
    let open = () => {};
    const gate = new Promise<void>((done) => (open = done));
    const { sender } = rig(async (url) => {
      if (url.endsWith("/camera/1")) return refuse(422, "wrong-length");
      if (url.endsWith("/microphone/1")) await gate;
      return ok();
    });
    for (const kind of ["microphone", "camera"] as const)
      for (const n of [0, 1]) await sender.add(kind, n, bytes(10 + n));
    // All but the part that waits is over: taken, or given up.
    await vi.waitFor(() => expect(sender.state).toMatchObject({ parts: 1, bytes: 11 }));
    expect(sender.take.endsBefore).toEqual({ camera: 1 });
    open();
    await vi.waitFor(() => expect(sender.state).toMatchObject({ parts: 0, bytes: 0 }));
  });

  it("tells the end, and again when the last part is in, until the server has closed the take", async () => {
    let stored = 0;
    const { sender, store, asked } = rig((url, init) => {
      if (url.endsWith("finish")) {
        expect(JSON.parse(init.body as string)).toEqual({ expected: { screen: 1 } });
        return ok({ state: stored === 2 ? "complete" : "uploading" });
      }
      stored++;
      return ok();
    });
    await sender.add("screen", 0, bytes(1));
    await sender.add("screen", 1, bytes(2));
    await sender.finish({ screen: 1 });
    await vi.waitFor(() => expect(sender.state.complete).toBe(true));
    expect(asked.at(-1)).toBe("PUT /finish");
    expect(store.known.size).toBe(0);
  });

  it("keeps the end too: another visit finds it with the parts", async () => {
    const { sender, store, waits } = rig(() => Promise.reject(new TypeError("no network")));
    await sender.add("screen", 0, bytes(1));
    void sender.finish({ screen: 0 });
    await vi.waitFor(() => expect(waits.length).toBeGreaterThanOrEqual(2));
    expect(store.known.get("t1")!.expected).toEqual({ screen: 0 });

    const asked: string[] = [];
    const next = new Sender((await store.takes())[0]!, store, {
      fetch: async (url, init) => (
        asked.push(`${init.method} ${url}`),
        url.endsWith("finish") ? ok({ state: "complete" }) : ok()
      ),
      wait: async () => undefined,
      onChange: () => undefined,
    });
    await next.restore();
    await vi.waitFor(() => expect(next.state.complete).toBe(true));
    expect(asked).toEqual(["PUT /ingest/t1/screen/init", "PUT /ingest/t1/finish"]);
  });

  it("throws away here at once, and on the server as soon as it hears", async () => {
    let online = false;
    const { sender, store, asked, waits } = rig(() => (online ? ok() : Promise.reject(new TypeError("no network"))));
    await store.addTake(keptTake());
    await sender.add("screen", 0, bytes(1));
    const { told } = await sender.discard();
    expect(asked).toContain("DELETE ");
    expect([store.kept.size, sender.state.parts]).toEqual([0, 0]);
    // Another visit will know that it was thrown away.
    expect(store.known.get("t1")).toMatchObject({ discarded: true });
    await vi.waitFor(() => expect(waits.length).toBe(1));
    online = true;
    for (const { end } of waits) end();
    await told;
    expect(store.known.size).toBe(0);
  });

  it("sends from memory what this computer has no room for, and says that there is none", async () => {
    const { sender, store, asked } = rig((url) => ok(url.endsWith("finish") ? { state: "complete" } : {}));
    await sender.add("screen", 0, bytes(1));
    store.failing = "put";
    await expect(sender.add("screen", 1, bytes(2))).rejects.toThrow("no room");
    store.failing = "addTake";
    await sender.finish({ screen: 1 });
    await vi.waitFor(() => expect(sender.state.complete).toBe(true));
    expect(asked).toEqual(expect.arrayContaining(["PUT /screen/1", "PUT /finish"]));
  });

  it("tries again when the browser's own store does not answer, and loses nothing", async () => {
    const { sender, store, waits } = rig(() => ok());
    await store.put({ ...(await stored("screen", 0)) });
    store.failing = "get";
    await sender.restore();
    await vi.waitFor(() => expect(sender.state).toMatchObject({ hold: "storage", parts: 1 }));
    store.failing = null;
    waits.at(-1)!.end();
    await vi.waitFor(() => expect(sender.state).toMatchObject({ hold: null, parts: 0 }));
  });

  it("ends a take where its gap begins, when all was acknowledged and the server still misses something", async () => {
    let told: unknown[] = [];
    const { sender, waits } = rig((url, init) => {
      if (url.endsWith("finish")) {
        told = [...told, JSON.parse(init.body as string).expected];
        return ok({ state: told.length > 1 ? "complete" : "uploading" });
      }
      return ok(init.method === "GET" ? { stored: { screen: [1, 2, 4], microphone: [1, 2, 3] } } : {});
    });
    const finished = sender.finish({ screen: 4, microphone: 3 });
    await vi.waitFor(() => expect(waits.length).toBe(1));
    waits[0]!.end();
    await finished;
    expect(told).toEqual([
      { screen: 4, microphone: 3 },
      { screen: 2, microphone: 3 },
    ]);
    expect(sender.state.complete).toBe(true);
  });

  it("waits 1, 2, 4, 8 and then 15 seconds", () =>
    expect([1, 2, 3, 4, 5, 9].map(backOff)).toEqual([1000, 2000, 4000, 8000, 15_000, 15_000]));

  it("writes digests as base64", async () => {
    // FIPS 180-4 (from memory): SHA-256 of nothing is e3b0c442 98fc1c14 … 7852b855.
    expect(Buffer.from(await digestOf(new ArrayBuffer(0)), "base64").toString("hex")).toMatch(
      /^e3b0c44298fc1c14.*7852b855$/,
    );
  });
});
