const AGAIN_MS = 3_000;

/**
 * Server-sent events for a page that is looked at. A hidden page lets its connection go and takes up where it was when
 * it is shown again: browsers allow
 * few connections to one server, and a dozen open tabs must not use them up.
 */
export class LiveSource {
  #source: EventSource | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    /** asked anew at every connection, so that it can say where to go on */
    private readonly url: () => string,
    private readonly onMessage: (message: MessageEvent<string>) => void,
    private readonly onLive: (live: boolean) => void,
  ) {
    document.addEventListener("visibilitychange", this.#look);
    this.#look();
  }

  close(): void {
    document.removeEventListener("visibilitychange", this.#look);
    this.#end();
  }

  #look = (): void => {
    if (document.hidden) this.#end();
    else if (!this.#source) this.#connect();
  };

  #connect(): void {
    const source = new EventSource(this.url());
    this.#source = source;
    source.onopen = () => this.onLive(true);
    source.onmessage = this.onMessage;
    source.onerror = () => {
      this.onLive(false);
      // A browser goes on by itself after a lost connection, but not after a refusal.
      if (source.readyState !== EventSource.CLOSED) return;
      this.#end();
      this.#timer = setTimeout(this.#look, AGAIN_MS);
    };
  }

  #end(): void {
    clearTimeout(this.#timer);
    this.#source?.close();
    this.#source = null;
  }
}
