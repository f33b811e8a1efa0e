import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { LiveSource } from "./source";

/** An EventSource that does what the test says. */
class FakeSource {
  static all: FakeSource[] = [];
  static readonly CLOSED = 2;
  readyState = 0;
  onopen = () => {};
  onmessage = (_: { data: string }) => {};
  onerror = () => {};
  constructor(readonly url: string) {
    FakeSource.all.push(this);
  }
  close() {
    this.readyState = FakeSource.CLOSED;
  }
}

let page: EventTarget & { hidden: boolean };
beforeEach(() => {
  vi.useFakeTimers();
  FakeSource.all = [];
  page = Object.assign(new EventTarget(), { hidden: false });
  vi.stubGlobal("document", page);
  vi.stubGlobal("EventSource", FakeSource);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
const hide = (hidden: boolean) => {
  page.hidden = hidden;
  page.dispatchEvent(new Event("visibilitychange"));
};

it("lets its connection go while the page is hidden, and goes on where it was", () => {
  let at = 1;
  const source = new LiveSource(
    () => `/events?after=${at}`,
    () => undefined,
    () => undefined,
  );
  hide(true);
  expect(FakeSource.all.map((s) => s.readyState)).toEqual([FakeSource.CLOSED]);
  at = 7;
  hide(false);
  hide(false);
  expect(FakeSource.all.map((s) => s.url)).toEqual(["/events?after=1", "/events?after=7"]);
  source.close();
  hide(false);
  expect(FakeSource.all).toHaveLength(2);
});

it("says whether it is live, leaves a lost connection to the browser, and tries again by itself after a refusal", () => {
  const live: boolean[] = [];
  const source = new LiveSource(
    () => "/events",
    () => undefined,
    (is) => live.push(is),
  );
  const [first] = FakeSource.all;
  first!.onopen();
  first!.onerror();
  vi.advanceTimersByTime(10_000);
  expect([live, FakeSource.all.length]).toEqual([[true, false], 1]);
  first!.readyState = FakeSource.CLOSED;
  first!.onerror();
  vi.advanceTimersByTime(2_900);
  expect(FakeSource.all).toHaveLength(1);
  vi.advanceTimersByTime(200);
  expect(FakeSource.all).toHaveLength(2);
  source.close();
});
