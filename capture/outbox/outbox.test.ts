import { describe, expect, it, vi } from "vitest";
import { bytes, keptTake, MemoryStore, ok } from "../../testing/store";
import { Outbox } from "./outbox";

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
    await vi.waitFor(() => expect(outbox.snapshot()).toEqual({ sending: [], unfinished: [], broken: false }));
    expect(store.known.size).toBe(0);
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
});
