import { Watcher, type Span } from "#core/viewing/watcher";
import { doorAt, guestHeaders } from "../embed/doors";
import { kept } from "../kept";
import { newId } from "../live/id";
import { revisionOf } from "./moved";
import type { Player } from "./player";

interface Batch {
  batch: string;
  /** the revision whose moments these are */
  revision: number | null;
  spans: Span[];
}

const EVERY_MS = 8_000;
const JSON_TYPE = "application/json";
const key = (token: string) => `clear-nod-spans:${token}`;

/**
 * Reports what was really played, in batches that may be sent twice and count once: while it plays, when it stops, and
 * by beacon when the page is left.
 * What cannot be sent is kept in this browser until the next time.
 */
export class SpanReporter {
  #watcher = new Watcher();
  #pending: Batch[];
  #sending = false;
  #seeks = 0;
  #wasPlaying = false;
  #known = false;
  readonly #revision: number | null;
  #unsubscribe: () => void;
  #timer: ReturnType<typeof setInterval>;

  constructor(
    private readonly token: string,
    private readonly player: Player,
    /** makes this browser known again */
    private readonly meet: () => Promise<void>,
  ) {
    this.#revision = revisionOf(player.url);
    this.#pending = keptBatches(token);
    this.#unsubscribe = player.subscribe(() => this.#look());
    this.#timer = setInterval(() => this.flush(), EVERY_MS);
    document.addEventListener("visibilitychange", this.#left);
    window.addEventListener("pagehide", this.#left);
    window.addEventListener("online", this.flush);
  }

  /** The server knows this browser now: what waits can be sent. */
  begin(): void {
    this.#known = true;
    this.flush();
  }

  flush = (): void => {
    this.#gather();
    if (this.#known && !this.#sending) void this.#send();
  };

  destroy(): void {
    this.#left();
    this.#unsubscribe();
    clearInterval(this.#timer);
    document.removeEventListener("visibilitychange", this.#left);
    window.removeEventListener("pagehide", this.#left);
    window.removeEventListener("online", this.flush);
  }

  #look(): void {
    const { time, playing, opening, waiting, rate, muted, volume, seeks } = this.player.snapshot();
    if (seeks !== this.#seeks) this.#watcher.sought();
    this.#seeks = seeks;
    const plays = playing && !waiting && !opening;
    this.#watcher.look({ time, playing: plays, rate, unseen: document.hidden && (muted || volume === 0) });
    if (this.#wasPlaying && !playing) this.flush();
    this.#wasPlaying = playing;
  }

  #gather(): void {
    const spans = this.#watcher.take();
    if (spans.length === 0) return;
    this.#pending.push({ batch: newId(), revision: this.#revision, spans });
    keep(this.token, this.#pending);
  }

  async #send(): Promise<void> {
    this.#sending = true;
    let met = false;
    try {
      for (let next = this.#pending[0]; next; next = this.#pending[0]) {
        const answer = await this.#post(next);
        // Read to its end: until then a browser keeps the request.
        await answer.text();
        if (answer.status === 409 && !met) {
          met = true;
          await this.meet();
          continue;
        }
        // What the server refuses for good is not offered again.
        if (!answer.ok && (answer.status >= 500 || answer.status === 429)) return;
        this.#pending.shift();
        keep(this.token, this.#pending);
      }
    } catch {
      // No connection: kept, and tried again with the next batch.
    } finally {
      this.#sending = false;
    }
  }

  /**
   * A page that is left may never come back: everything by beacon, and kept as well, because a beacon does not answer.
   */
  #left = (): void => {
    this.#gather();
    if (!this.#known) return;
    for (const batch of this.#pending) {
      // A beacon has no headers.
      if (Object.keys(guestHeaders()).length > 0) this.#post(batch).catch(() => undefined);
      else navigator.sendBeacon(doorAt(this.token, "spans"), new Blob([JSON.stringify(batch)], { type: JSON_TYPE }));
    }
  };

  #post(batch: Batch): Promise<Response> {
    return fetch(doorAt(this.token, "spans"), {
      method: "POST",
      body: JSON.stringify(batch),
      headers: { "content-type": JSON_TYPE, ...guestHeaders() },
      keepalive: true,
    });
  }
}

function keptBatches(token: string): Batch[] {
  const found = kept.read(key(token));
  return Array.isArray(found) ? (found as Batch[]) : [];
}

function keep(token: string, pending: Batch[]): void {
  if (pending.length === 0) kept.remove(key(token));
  else kept.write(key(token), pending.slice(-50));
}
