import { afterEach, describe, expect, it, vi } from "vitest";
import { AnswersStore, inOrder, Refused } from "./store";

describe("a list that is kept up to date", () => {
  const c = (id: string, at: number, createdAt: string) => ({ id, at, createdAt });
  const list = [c("a", 1, "1"), c("b", 3, "2"), c("d", 3, "4")];
  it("takes an item in at its time, and at the same time in the order of writing", () => {
    expect(inOrder(list, "c", c("c", 3, "3")).map((x) => x.id)).toEqual(["a", "b", "c", "d"]);
    expect(inOrder(list, "e", c("e", 9, "0")).map((x) => x.id)).toEqual(["a", "b", "d", "e"]);
    expect(inOrder([], "e", c("e", 9, "0")).map((x) => x.id)).toEqual(["e"]);
  });
  it("is the same however often it is told", () => {
    const once = inOrder(list, "b", c("b", 2, "2"));
    expect(inOrder(once, "b", c("b", 2, "2"))).toEqual(once);
    expect(once).toHaveLength(3);
  });
  it("loses what was taken back, and nothing for what was never there", () => {
    expect(inOrder(list, "b", null).map((x) => x.id)).toEqual(["a", "d"]);
    expect(inOrder(list, "x", null)).toEqual(list);
  });
});

const SERVED = { comments: [], before: null, threads: 0, reactions: [], ask: {}, revision: 1, newest: 0 };

/** Browsers have it; this Node does not. */
Promise.withResolvers ??= function <T>() {
  let deeds!: Pick<PromiseWithResolvers<T>, "resolve" | "reject">;
  const promise = new Promise<T>((resolve, reject) => (deeds = { resolve, reject }));
  return { promise, ...deeds };
};

/** A page, and what its server answers in turn. */
function rig(...answers: { status: number; body: object }[]) {
  const asked: string[] = [];
  vi.stubGlobal("location", { pathname: "/w/link" });
  vi.stubGlobal("fetch", async (url: string) => {
    asked.push(url.split("/").at(-1)!);
    const { status, body } = answers.shift()!;
    return Response.json(body, { status });
  });
  const deeds = { reload: vi.fn(), people: vi.fn() };
  return { asked, store: new AnswersStore("link", SERVED as never, deeds, false) };
}

afterEach(() => vi.unstubAllGlobals());

describe("saying something", () => {
  const me = { id: "tove", name: "Tove", needsName: false };
  const met = { status: 200, body: { me } };
  const unknown = { status: 409, body: { error: "not-opened", message: "Open the page first." } };
  const said = { do: "react", kind: "thanks", at: 0 } as never;

  it("makes this browser known again, where another of its pages has made it another guest, and says it then", async () => {
    const { asked, store } = rig(met, unknown, met, { status: 200, body: { id: "r" } });
    await store.open(null, true);
    expect(await store.say(said)).toBe("r");
    expect(asked).toEqual(["visit", "say", "visit", "say"]);
    expect(store.snapshot().me).toEqual(me);
  });

  it("says what the server says, if that does not help, or is about something else", async () => {
    const { asked, store } = rig(met, unknown, met, unknown, {
      status: 409,
      body: { error: "closed", message: "It is closed." },
    });
    await store.open(null, true);
    await expect(store.say(said)).rejects.toEqual(new Refused("Open the page first.", "not-opened"));
    await expect(store.say(said)).rejects.toThrow("It is closed.");
    expect(asked).toEqual(["visit", "say", "visit", "say", "say"]);
  });
});
