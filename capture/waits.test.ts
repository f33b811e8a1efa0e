import { expect, it } from "vitest";
import { delay, unless, within } from "./waits";

const never = new Promise<never>(() => undefined);
const why = new Error("cancelled");

it("ends every wait at once when the signal is given, before or during it", async () => {
  const given = AbortSignal.abort(why);
  await delay(1e6, given);
  await expect(unless(given, never)).rejects.toBe(why);
  await expect(within(1e6, "late", given, never)).rejects.toBe(why);

  const attempt = new AbortController();
  const waits = [unless(attempt.signal, never), within(1e6, "late", attempt.signal, never)];
  const slept = delay(1e6, attempt.signal);
  attempt.abort(why);
  await slept;
  for (const wait of waits) await expect(wait).rejects.toBe(why);
});

it("gives what the work gives, and throws what it throws", async () => {
  const { signal } = new AbortController();
  expect(await within(1e6, "late", signal, Promise.resolve(7))).toBe(7);
  await expect(unless(signal, Promise.reject(why))).rejects.toBe(why);
});

it("says so when the work is late", async () => {
  await expect(within(1, "The camera did not start.", new AbortController().signal, never)).rejects.toThrow(
    "The camera did not start.",
  );
});
