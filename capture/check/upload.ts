const TRIAL = "/ingest/trial";
/** The first one opens the connection, the second is timed. */
const WARM_BYTES = 32 * 1024;
const TIMED_BYTES = 512 * 1024;
/** A connection slower than this is slow enough to know. */
const LONGEST_MS = 6_000;

/**
 * How fast this computer sends to the server, in bits a second; 0 where it does not get there. Null where the server
 * does not want to be tried.
 * @throws what the signal was given for
 */
export async function measureUpload(signal: AbortSignal): Promise<number | null> {
  try {
    if (!(await send(WARM_BYTES, signal))) return null;
    const began = performance.now();
    const timed = AbortSignal.any([signal, AbortSignal.timeout(LONGEST_MS)]);
    if (!(await send(TIMED_BYTES, timed))) return null;
    return (8000 * TIMED_BYTES) / Math.max(1, performance.now() - began);
  } catch (error) {
    if (signal.aborted) throw error;
    // Not there within the time: all that is known is that it is slower than that.
    return (error as Error).name === "TimeoutError" ? (8000 * TIMED_BYTES) / LONGEST_MS / 2 : 0;
  }
}

async function send(bytes: number, signal: AbortSignal): Promise<boolean> {
  const body = new Uint8Array(bytes);
  // Noise: nothing on the way makes it smaller.
  for (let at = 0; at < bytes; at += 65_536) crypto.getRandomValues(body.subarray(at, at + 65_536));
  const answer = await fetch(TRIAL, { method: "PUT", body, signal });
  await answer.arrayBuffer();
  return answer.ok;
}
