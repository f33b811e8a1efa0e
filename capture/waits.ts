/** Waits that a signal ends at once: everything between a press and the first frame can be cancelled. */

/** Settles after so many ms, or as soon as the signal is given. */
export function delay(ms: number, signal: AbortSignal): Promise<void> {
  if (signal.aborted) return Promise.resolve();
  return new Promise((done) => {
    const timer = setTimeout(done, ms);
    signal.addEventListener("abort", () => {
      clearTimeout(timer);
      done();
    });
  });
}

/** The work's result. @throws what the signal was given for, as soon as it is */
export function unless<T>(signal: AbortSignal, work: Promise<T>): Promise<T> {
  return new Promise((done, failed) => {
    if (signal.aborted) return failed(signal.reason);
    signal.addEventListener("abort", () => failed(signal.reason));
    work.then(done, failed);
  });
}

/** The same, within so many ms. @throws {Error} `late` after that */
export function within<T>(ms: number, late: string, signal: AbortSignal, work: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const over = new Promise<never>((_, failed) => (timer = setTimeout(() => failed(new Error(late)), ms)));
  return unless(signal, Promise.race([work, over])).finally(() => clearTimeout(timer));
}
