import { describe, expect, it, vi } from "vitest";
import { bytes, keptTake, MemoryStore, ok } from "../../testing/store";
import { Outbox } from "./outbox";
import type { KeptTake } from "./store";

/** Web Locks (W3C), as far as the outbox uses them: one holder for each name, shared by all tabs of a test. */
class Locks {
  held = new Set<string>();
  request = (async (name: string, options: LockOptions, work: (lock: Lock | null) => Promise<void> | undefined) => {
    if (this.held.has(name)) {
      if (options.ifAvailable) return work(null);
      await vi.waitUntil(() => !this.held.has(name));
    }
    this.held.add(name);
    await work({ name, mode: "exclusive" });
    this.held.delete(name);
  }) as unknown as LockManager["request"];
  query = async () => ({ held: [...this.held].map((name) => ({ name })), pending: [] }) as LockManagerSnapshot;
}

/** One computer: its store and locks. Each tab on it has an outbox; the server answers as told. */
function computer(answer: (url: string, init: RequestInit) => Response | Promise<Response> = () => ok()) {
  const store = new MemoryStore();
  const locks = new Locks();
  const asked: string[] = [];
  const listeners: Record<string, (event: { preventDefault: () => void }) => void> = {};
  const tab = () =>
    new Outbox({
      store,
      locks,
      fetch: async (url, init) => {
        asked.push(`${init.method ?? "GET"} ${url}`);
        return answer(url, init);
      },
      window: { addEventListener: (name: string, listener: never) => (listeners[name] = listener) } as never,
    });
  return { store, locks, asked, listeners, tab };
}

const settled = () => new Promise((done) => setTimeout(done, 20));

describe("takes on their way", () => {
  it("offers what an earlier visit left, sends it, and closes it with what is there without a gap", async () => {
    let expected: unknown;
    const { store, tab, asked } = computer((url, init) => {
      if (url.endsWith("finish")) {
        expected = JSON.parse(init.body as string).expected;
        return ok({ state: "complete" });
      }
      return url === "/ingest/t1" ? ok({ stored: { screen: [1, 2], microphone: [1] } }) : ok();
    });
    await store.addTake(keptTake());
    for (const number of [3, 5])
      await store.put({ takeId: "t1", kind: "screen", number, digest: "x", bytes: bytes(9) });
    const outbox = tab();
    await outbox.look();
    expect(outbox.snapshot().unfinished).toMatchObject([{ take: { takeId: "t1" }, parts: 2, bytes: 18 }]);
    await outbox.sendRest("t1");
    expect(expected).toEqual({ screen: 3, microphone: 1 });
    expect(asked).toEqual(expect.arrayContaining(["PUT /ingest/t1/screen/3", "PUT /ingest/t1/finish"]));
    await vi.waitFor(() => expect(outbox.snapshot()).toMatchObject({ sending: [], unfinished: [] }));
    expect(store.known.size).toBe(0);
  });

  it("says nothing of what was sent while an earlier look at this computer was slow", async () => {
    let come = () => {};
    const slow = new Promise<void>((resolve) => (come = resolve));
    const { store, tab, asked } = computer(async (url) => {
      if (url.endsWith("finish")) {
        // It is being sent while the slow look comes to its end.
        await slow.then(settled);
        return ok({ state: "complete" });
      }
      return url === "/ingest/t1" ? ok({ stored: {} }) : ok();
    });
    await store.addTake({ ...keptTake(), expected: { screen: 1 } });
    await store.put({ takeId: "t1", kind: "screen", number: 1, digest: "x", bytes: bytes(9) });
    // The look of a page that opens, before it knows who looks.
    vi.spyOn(store, "list").mockImplementationOnce(async () => {
      await slow;
      return [];
    });
    const outbox = tab();
    await settled();
    await outbox.showFor("orla");
    await vi.waitFor(() => expect(asked).toContain("PUT /ingest/t1/finish"));
    come();
    await vi.waitFor(() => expect(store.known.size).toBe(0));
    await settled();
    expect(outbox.snapshot()).toMatchObject({ sending: [], unfinished: [] });
  });

  it("leaves alone what another tab is sending: it neither offers it nor throws it away", async () => {
    const { store, tab, asked } = computer(() => new Promise<Response>(() => undefined));
    const first = tab();
    await first.open(keptTake());
    const second = tab();
    await second.look();
    expect(second.snapshot().unfinished).toEqual([]);
    await second.throwAway(keptTake());
    expect(store.known.has("t1")).toBe(true);
    expect(asked).not.toContain("DELETE /ingest/t1");
  });

  it("remembers what was thrown away off line, and tells the server on the next visit", async () => {
    let online = false;
    const { store, tab, asked, locks } = computer(() => (online ? ok() : Promise.reject(new TypeError("no network"))));
    const outbox = tab();
    await outbox.open(keptTake());
    await outbox.throwAway(keptTake());
    expect(outbox.snapshot().sending).toEqual([]);
    expect(store.known.get("t1")).toMatchObject({ discarded: true });
    // The tab dies: its locks are free, its take is there.
    locks.held.clear();
    online = true;
    asked.length = 0;
    const next = tab();
    await vi.waitFor(() => expect(store.known.size).toBe(0));
    expect(asked).toEqual(["DELETE /ingest/t1"]);
    expect(next.snapshot().unfinished).toEqual([]);
  });

  it("says that this browser keeps nothing, records nothing then, and recovers when it does again", async () => {
    const { store, tab, locks } = computer();
    store.failing = "takes";
    const outbox = tab();
    await settled();
    expect(outbox.snapshot().broken).toBe(true);
    store.failing = "addTake";
    await expect(outbox.open(keptTake())).rejects.toThrow(/does not let the page keep anything/);
    expect(locks.held.size).toBe(0);
    store.failing = null;
    await outbox.look();
    expect(outbox.snapshot().broken).toBe(false);
    await outbox.open(keptTake());
    expect(outbox.snapshot().sending).toHaveLength(1);
  });

  it("asks before the tab is left while something is only here", async () => {
    const { tab, listeners } = computer(() => Promise.reject(new TypeError("no network")));
    const outbox = tab();
    const asks = () => {
      const event = { preventDefault: vi.fn() };
      listeners.beforeunload!(event);
      return event.preventDefault.mock.calls.length === 1;
    };
    expect(asks()).toBe(false);
    const sender = await outbox.open(keptTake());
    await sender.add("screen", 0, bytes(4));
    expect(asks()).toBe(true);
  });

  it("goes on at once when the network is back", async () => {
    let online = false;
    const { tab, listeners } = computer(() => (online ? ok() : Promise.reject(new TypeError("no network"))));
    const sender = await tab().open(keptTake());
    await sender.add("screen", 0, bytes(4));
    await vi.waitFor(() => expect(sender.state.hold).toBe("offline"));
    online = true;
    listeners.online!({ preventDefault: () => undefined });
    await vi.waitFor(() => expect(sender.state).toMatchObject({ hold: null, parts: 0 }));
  });

  it("ends a take whose recorder broke with what was made of it", async () => {
    let expected: unknown;
    const { tab } = computer((url, init) => {
      if (url.endsWith("finish")) expected = JSON.parse(init.body as string).expected;
      return ok(url.endsWith("finish") ? { state: "complete" } : { stored: { screen: [1] } });
    });
    const outbox = tab();
    const sender = await outbox.open(keptTake());
    for (const n of [0, 1]) await sender.add("screen", n, bytes(2));
    await outbox.salvage("t1");
    expect(expected).toEqual({ screen: 1 });
  });

  describe("without the server", () => {
    const unknown = (by?: string): KeptTake => ({
      ...keptTake(),
      start: { takeId: "t1", source: "voice", title: "Ridge", ...(by && { by }) },
      registered: null,
    });
    const known = { takeId: "t1", recordingId: "r9", token: "k9", link: "/w/k9", title: "Ridge" };
    /** A server that can be reached, or not, and knows the take once it was told of it. */
    function server() {
      const told: [string, unknown][] = [];
      const state = { online: false, status: 201, error: "", parts: 0 };
      const answer = (url: string, init: RequestInit) => {
        if (!state.online) throw new TypeError("no network");
        if (url === "/takes") {
          told.push([url, JSON.parse(init.body as string)]);
          return new Response(JSON.stringify(state.status < 400 ? known : { error: state.error, message: "No." }), {
            status: state.status,
          });
        }
        told.push([`${init.method ?? "GET"} ${url}`, null]);
        const isWhole = state.parts === told.filter(([what]) => /microphone/.test(what)).length;
        return ok(url.endsWith("finish") ? { state: isWhole ? "complete" : "uploading" } : {});
      };
      return { told, state, answer };
    }

    it("keeps a take that nobody has heard of, tells of it before anything else, and remembers what it was given", async () => {
      const { told, state, answer } = server();
      const { store, tab } = computer(answer);
      const outbox = tab();
      const sender = await outbox.open(unknown());
      for (const n of [0, 1]) await sender.add("microphone", n, bytes(n + 1));
      await vi.waitFor(() => expect(sender.state.hold).toBe("offline"));
      expect(await outbox.describe("t1", { title: "Lead", description: "", tags: ["roof"] })).toBe(true);
      void sender.finish({ microphone: 1 });
      await settled();
      state.parts = 2;
      expect(store.known.get("t1")).toMatchObject({ registered: null, title: "Lead", expected: { microphone: 1 } });
      state.online = true;
      outbox.retry();
      await vi.waitFor(() => expect(store.known.size).toBe(0));
      expect(told[0]).toEqual([
        "/takes",
        { takeId: "t1", source: "voice", title: "Lead", description: "", tags: ["roof"] },
      ]);
      expect(told.slice(1).map(([what]) => what)).toEqual(
        expect.arrayContaining([
          "PUT /ingest/t1/microphone/init",
          "PUT /ingest/t1/microphone/1",
          "PUT /ingest/t1/finish",
        ]),
      );
      expect(told.filter(([what]) => what === "/takes")).toHaveLength(1);
      expect(sender.take.registered).toMatchObject({ recordingId: "r9", token: "k9" });
      // From now on it is the recording that is told.
      expect(await sender.describe({ title: "Late", description: "", tags: [] })).toBe(false);
    });

    it("sends what has its end by itself when its person is there, and tells nobody else of it", async () => {
      const { told, state, answer } = server();
      state.online = true;
      const { store, tab } = computer(answer);
      await store.addTake({ ...unknown("orla"), expected: {} });
      const outbox = tab();
      await outbox.showFor("bram");
      expect(outbox.snapshot()).toMatchObject({ unfinished: [], others: 1 });
      expect(told).toEqual([]);
      await outbox.showFor("orla");
      await vi.waitFor(() => expect(store.known.size).toBe(0));
      await vi.waitFor(() => expect(outbox.snapshot()).toMatchObject({ sending: [], unfinished: [], others: 0 }));
    });

    it("is not thrown away in the name of somebody else", async () => {
      const { told, state, answer } = server();
      state.online = true;
      const { store, tab } = computer(answer);
      await store.addTake({ ...unknown("orla"), discarded: true });
      const outbox = tab();
      await outbox.showFor("bram");
      expect(told).toEqual([]);
      await outbox.showFor("orla");
      await vi.waitFor(() => expect(told).toEqual([["DELETE /ingest/t1", null]]));
      await vi.waitFor(() => expect(store.known.size).toBe(0));
    });

    it("waits for its person where another one is signed in", async () => {
      const { state, answer } = server();
      Object.assign(state, { online: true, status: 409, error: "other-person" });
      const { tab } = computer(answer);
      const sender = await tab().open(unknown("orla"));
      await sender.add("microphone", 0, bytes(1));
      await vi.waitFor(() => expect(sender.state).toMatchObject({ hold: "other-person", parts: 1 }));
    });

    it("is thrown away without the server having heard of it", async () => {
      const { told, state, answer } = server();
      const { store, tab } = computer(answer);
      const outbox = tab();
      const take = unknown();
      await outbox.open(take);
      await outbox.throwAway(take);
      await settled();
      expect(store.known.get("t1")).toMatchObject({ discarded: true });
      state.online = true;
      outbox.retry();
      await vi.waitFor(() => expect(store.known.size).toBe(0));
      expect(told).toEqual([["DELETE /ingest/t1", null]]);
    });
  });

  describe("what stays here", () => {
    it("is all there when it was sent, is not sent again, and goes when it is let go", async () => {
      const { store, tab, asked } = computer((url) => ok(url.endsWith("finish") ? { state: "complete" } : {}));
      const outbox = tab();
      const sender = await outbox.open({ ...keptTake(), stays: true });
      for (const n of [0, 1, 2]) await sender.add("screen", n, bytes(n + 1));
      await sender.finish({ screen: 2 });
      await vi.waitFor(() => expect(outbox.snapshot().stayed).toMatchObject([{ parts: 0, bytes: 6 }]));
      expect([...(await outbox.playable("t1"))].map(([kind, file]) => [kind, file.size])).toEqual([["screen", 6]]);
      asked.length = 0;
      const next = tab();
      await next.showFor("orla");
      expect(next.snapshot()).toMatchObject({ unfinished: [], stayed: [{ take: { takeId: "t1" } }] });
      expect(asked).toEqual([]);
      await next.letGo("t1");
      expect([store.known.size, store.kept.size, next.snapshot().stayed]).toEqual([0, 0, []]);
    });

    it("is played from where all its tracks are still here, without what is missing", async () => {
      const { store, tab } = computer();
      await store.addTake(keptTake());
      const put = (kind: "screen" | "microphone" | "camera", ...numbers: number[]) =>
        Promise.all(
          numbers.map((number) => store.put({ takeId: "t1", kind, number, digest: "", bytes: bytes(number + 1) })),
        );
      await put("screen", 0, 3, 4, 6);
      await put("microphone", 0, 2, 3, 4, 5);
      // Without its init segment nothing of it can be played.
      await put("camera", 3, 4);
      const played = [...(await tab().playable("t1"))];
      const numbers = async (file: Blob) => [...new Set(new Uint8Array(await file.arrayBuffer()))].map((n) => n - 1);
      const files = await Promise.all(played.map(async ([kind, file]) => [kind, await numbers(file)] as const));
      expect(Object.fromEntries(files)).toEqual({ screen: [0, 3, 4], microphone: [0, 3, 4, 5] });
    });
  });
});
