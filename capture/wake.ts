/**
 * Settles at a moment, also in a page that nobody looks at: timers of a hidden page may be slowed down to once a
 * minute, those of a worker are not.
 * @param at ms since 1970
 * @param signal ends the wait; it then never settles
 * @throws when the worker does not start
 */
export function wakeAt(at: number, signal: AbortSignal): Promise<void> {
  const worker = new Worker(new URL("./wake.worker.ts", import.meta.url), { type: "module" });
  signal.addEventListener("abort", () => worker.terminate());
  return new Promise<void>((reached, failed) => {
    worker.onmessage = () => reached();
    worker.onerror = (event) => failed(new Error(event.message || "The clock for the start could not be set."));
    worker.postMessage(at);
  }).finally(() => worker.terminate());
}
