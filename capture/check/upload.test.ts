import { beforeEach, describe, expect, it, vi } from "vitest";
import { measureUpload } from "./upload";

const sent: number[] = [];
const answering = (answer: (bytes: number, signal: AbortSignal) => Promise<Response>) =>
  vi.stubGlobal("fetch", async (_: string, { body, signal }: { body: Uint8Array; signal: AbortSignal }) => {
    sent.push(body.length);
    return answer(body.length, signal);
  });
const after = (ms: number) => new Promise((done) => setTimeout(done, ms));
const never = new AbortController().signal;

describe("how fast a computer sends", () => {
  beforeEach(() => {
    sent.length = 0;
    return () => vi.unstubAllGlobals();
  });

  it("is timed over the larger of two bodies, when the connection is open", async () => {
    answering(async (bytes) => {
      await after(bytes > 100_000 ? 200 : 50);
      return new Response("{}");
    });
    const rate = (await measureUpload(never))!;
    expect(sent).toEqual([32 * 1024, 512 * 1024]);
    // Half a megabyte in a fifth of a second: at the most 21 Mbit/s, less on a busy computer.
    expect(rate).toBeLessThan(21.1e6);
    expect(rate).toBeGreaterThan(0);
  });

  it("is nothing without a connection, and not known where the server refuses", async () => {
    answering(async () => Promise.reject(new TypeError("Failed to fetch")));
    expect(await measureUpload(never)).toBe(0);
    answering(async () => new Response("{}", { status: 429 }));
    expect(await measureUpload(never)).toBeNull();
  });

  it("is at the most what a connection did that was too slow to wait for", async () => {
    answering(async (bytes) =>
      bytes < 100_000 ? new Response("{}") : Promise.reject(new DOMException("", "TimeoutError")),
    );
    const rate = (await measureUpload(never))!;
    expect(rate).toBeGreaterThan(0);
    expect(rate).toBeLessThan(700_000);
  });

  it("is given up when the person goes on", async () => {
    const gone = new AbortController();
    answering(async (_, signal) => {
      gone.abort(new Error("left"));
      signal.throwIfAborted();
      return new Response("{}");
    });
    await expect(measureUpload(gone.signal)).rejects.toThrow("left");
  });
});
