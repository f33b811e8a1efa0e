import { promisify } from "node:util";
import { constants, gzip as gzipBack } from "node:zlib";
import { LRUCache } from "lru-cache";

const compress = promisify(gzipBack) as (text: string, options: { level: number }) => Promise<Buffer<ArrayBuffer>>;

/** A page as it was made, in parts between which the number stands that allows its scripts. */
interface Made {
  headers: [string, string][];
  parts: string[];
  policy: string[];
}

/** A page as it is given to somebody, all of it at once. */
export interface WholePage {
  headers: [string, string][];
  body: Buffer;
}

/** So long after it was made a page is given to whoever comes. What has changed since is told to it when it listens. */
const GIVEN_MS = 1_000;
const MOST_PAGES = 100;

/**
 * Pages that are the same for everybody who asks, made once for all who ask at once: a class that opens one link. Each
 * of them gets a number of their own for the scripts. Who may have a page is asked before, for each of them.
 */
export class SamePages {
  #pages = new LRUCache<string, Promise<Made | null>>({ max: MOST_PAGES, ttl: GIVEN_MS });

  /**
   * @param nonce of this answer
   * @param gzip does whoever asks take it compressed?
   * @param make makes the page with this number; what is no page for everybody is answered as it is
   */
  async answer(
    key: string,
    { nonce, gzip }: { nonce: string; gzip: boolean },
    make: () => Promise<Response>,
  ): Promise<WholePage | Response> {
    const known = this.#pages.get(key);
    if (known) {
      // Whoever made it was told of what went wrong; the others try for themselves.
      const made = await known.catch(() => null);
      return made ? given(made, nonce, gzip) : make();
    }
    let own: Response | null = null;
    const making = make().then(async (response) => {
      if (response.status !== 200 || response.headers.has("set-cookie")) {
        own = response;
        return null;
      }
      return take(response, nonce);
    });
    this.#pages.set(key, making);
    try {
      const made = await making;
      if (!made) {
        this.#pages.delete(key);
        return own!;
      }
      // What took long to make is not too old when it is there.
      this.#pages.set(key, making);
      return given(made, nonce, gzip);
    } catch (error) {
      this.#pages.delete(key);
      throw error;
    }
  }
}

async function take(response: Response, nonce: string): Promise<Made> {
  const headers = [...response.headers].filter(([name]) => name !== "content-security-policy");
  const policy = response.headers.get("content-security-policy") ?? "";
  return { headers, parts: (await response.text()).split(nonce), policy: policy.split(nonce) };
}

async function given({ headers, parts, policy }: Made, nonce: string, gzip: boolean): Promise<WholePage> {
  const text = parts.join(nonce);
  return {
    headers: [
      ...headers,
      ["content-security-policy", policy.join(nonce)],
      ["vary", "accept-encoding"],
      ...(gzip ? [["content-encoding", "gzip"] as [string, string]] : []),
    ],
    // Quickly rather than well: it is done for each of them.
    body: gzip ? await compress(text, { level: constants.Z_BEST_SPEED }) : Buffer.from(text),
  };
}
