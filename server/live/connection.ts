import type { ServerResponse } from "node:http";

/** Bytes that may wait for a page that does not read. With more it is ended; it comes back and goes on where it was. */
const MOST_UNREAD = 64 * 1024;
const RETRY_MS = 2_000;

/**
 * One open stream of server-sent events (WHATWG HTML, 9.2). Ended once, whoever ends it: the page, the server, or the
 * page's own slowness; nothing is written after that.
 */
export class Connection {
  #ended = false;

  /** @param onEnded called once, at once */
  constructor(
    private readonly res: ServerResponse,
    private readonly onEnded: () => void,
  ) {
    res.once("close", () => this.#gone());
    res.once("error", () => this.#gone());
    res.writeHead(200, {
      "content-type": "text/event-stream",
      "cache-control": "no-store",
      "x-accel-buffering": "no",
    });
    this.write(`retry: ${RETRY_MS}\n\n`);
  }

  get ended(): boolean {
    return this.#ended;
  }

  write(text: string): void {
    if (this.#ended) return;
    this.res.write(text);
    if (this.res.writableLength <= MOST_UNREAD) return;
    this.#gone();
    this.res.destroy();
  }

  end(): void {
    if (this.#ended) return;
    this.#gone();
    this.res.end();
  }

  #gone(): void {
    if (this.#ended) return;
    this.#ended = true;
    this.onEnded();
  }
}
