import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { begun, act, shownBy } from "#core/recipe/history";
import type { Shown } from "#core/recipe/edits";
import { momentOf } from "#core/recipe/frames";
import type { Range } from "#core/time/ranges";
import { kept as storage } from "../kept";
import type { Answer, Saved } from "./saving";
import { EditSession } from "./session";

const takes: Range[] = [{ from: 0, to: momentOf(300) }];
const cut = (from: number, to: number) => ({ do: "leave-out" as const, from: momentOf(from), to: momentOf(to) });
const all: Shown = { kept: takes, dress: {} };
const current = { ...all, revision: 1 };

/** A server that has one draft, and can be cut off. */
function fakeServer() {
  const sent: Record<string, string>[] = [];
  const server = {
    version: 0,
    draft: null as Saved | null,
    reached: true,
    /** it takes what is sent, and nobody hears of it */
    deaf: false,
    by: "",
    sent,
    published: 0,
    async send(deed: Record<string, string>): Promise<Answer> {
      sent.push(deed);
      await Promise.resolve();
      if (!server.reached) return { is: "unreached" };
      const own = deed.do === "save" && deed.by === server.by;
      if (Number(deed.version) !== server.version && !own) return { is: "other", why: "changed" };
      if (deed.do === "publish") {
        server.published++;
        return { is: "taken", version: null };
      }
      server.version++;
      server.by = deed.by!;
      const history = JSON.parse(deed.history!) as Saved["history"];
      server.draft = { version: server.version, seen: Number(deed.seen), history };
      return server.deaf ? { is: "unreached" } : { is: "taken", version: server.version };
    },
  };
  return server;
}
const open = (server: ReturnType<typeof fakeServer>) =>
  new EditSession("one", takes, server.draft, current, server.send);
const rest = () => vi.advanceTimersByTimeAsync(5_000);

describe("an edit that is worked on", () => {
  const store = new Map<string, string>();
  beforeEach(() => {
    vi.useFakeTimers();
    store.clear();
    vi.stubGlobal("localStorage", {
      getItem: (name: string) => store.get(name) ?? null,
      setItem: (name: string, value: string) => void store.set(name, value),
      removeItem: (name: string) => void store.delete(name),
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("is saved when the hand rests, once, and is there again in the next page", async () => {
    const server = fakeServer();
    const session = open(server);
    for (const n of [1, 2, 3]) session.act(cut(10 * n, 10 * n + 5));
    expect([session.snapshot().keeping, store.size]).toEqual(["saving", 1]);
    await rest();
    expect([session.snapshot().keeping, server.sent.length, store.size]).toEqual(["saved", 1, 0]);
    session.undo();
    await rest();
    const again = open(server);
    again.resume();
    expect(again.snapshot().history).toEqual(session.snapshot().history);
    again.redo();
    expect(again.snapshot().shown.kept).toHaveLength(4);
  });

  it("is kept on this computer while the server cannot be reached, over a reload, and sent later", async () => {
    const server = fakeServer();
    server.reached = false;
    const session = open(server);
    session.act(cut(10, 20));
    await rest();
    expect(session.snapshot().keeping).toBe("here");
    session.end();
    const again = open(server);
    again.resume();
    expect(again.snapshot().shown).toEqual(session.snapshot().shown);
    await rest();
    expect(again.snapshot().keeping).toBe("here");
    server.reached = true;
    await rest();
    expect([again.snapshot().keeping, server.version, store.size]).toEqual(["saved", 1, 0]);
    again.end();
  });

  it("goes on after an answer that was lost, also with what was done since, and takes itself for nobody else", async () => {
    const server = fakeServer();
    const session = open(server);
    session.act(cut(10, 20));
    server.deaf = true;
    await vi.advanceTimersByTimeAsync(900);
    expect([session.snapshot().keeping, server.version]).toEqual(["here", 1]);
    server.deaf = false;
    session.act(cut(30, 40));
    await rest();
    expect([session.snapshot().keeping, shownBy(server.draft!.history)]).toEqual(["saved", session.snapshot().shown]);
  });

  it("goes on while it is being sent, and what came meanwhile is sent after", async () => {
    const server = fakeServer();
    const session = open(server);
    session.act(cut(10, 20));
    await vi.advanceTimersByTimeAsync(800);
    session.act(cut(30, 40));
    await rest();
    expect([server.version, shownBy(server.draft!.history)]).toEqual([2, session.snapshot().shown]);
  });

  it("never replaces what another window has saved, until one of the two is chosen", async () => {
    const server = fakeServer();
    const [mine, other] = [open(server), open(server)];
    other.act(cut(100, 110));
    await rest();
    mine.act(cut(10, 20));
    await rest();
    expect([mine.snapshot().keeping, server.version]).toEqual(["other", 1]);
    // Also what is done after that stays here.
    mine.act(cut(30, 40));
    await rest();
    expect(server.version).toBe(1);
    expect(await mine.publish()).toBe(false);
    // A page that is opened now finds both.
    const late = open(server);
    late.resume();
    expect([late.snapshot().keeping, late.snapshot().shown]).toEqual(["other", mine.snapshot().shown]);
    late.useOther(server.draft!);
    expect([late.snapshot().keeping, late.snapshot().shown]).toEqual(["saved", other.snapshot().shown]);
    mine.replaceOther(server.version);
    await rest();
    expect([mine.snapshot().keeping, shownBy(server.draft!.history)]).toEqual(["saved", mine.snapshot().shown]);
  });

  it("is published as it was saved, after what is still to be sent", async () => {
    const server = fakeServer();
    const session = open(server);
    session.act(cut(10, 20));
    const asked = session.publish();
    await rest();
    expect(await asked).toBe(true);
    expect(server.sent.map((deed) => deed.do)).toEqual(["save", "publish"]);
    session.published(2);
    await rest();
    expect([server.draft!.seen, session.snapshot().history.done.length]).toEqual([2, 1]);
    server.reached = false;
    session.act(cut(40, 50));
    const late = session.publish();
    await rest();
    expect(await late).toBe(false);
    session.end();
  });

  it("says what cannot be done, and does nothing", () => {
    const session = open(fakeServer());
    session.act(cut(0, 300));
    expect(session.snapshot()).toMatchObject({ problem: expect.stringContaining("something to show"), shown: all });
    session.act(cut(0, 10));
    expect(session.snapshot().problem).toBeNull();
    session.end();
  });

  it("takes nothing from this computer that is no edit", () => {
    const bad = [{}, { version: 1, seen: 1, history: { base: [] } }, { version: "1", seen: 1, history: begun(all) }];
    for (const kept of bad) {
      storage.write("clear-nod-edit:one", kept);
      const session = open(fakeServer());
      session.resume();
      expect(session.snapshot()).toMatchObject({ keeping: "saved", shown: all });
    }
    const history = act(begun(all), all, cut(10, 20), takes);
    storage.write("clear-nod-edit:one", { version: 0, seen: 1, history });
    const session = open(fakeServer());
    session.resume();
    expect(session.snapshot().shown.kept).toHaveLength(2);
    session.end();
  });
});
