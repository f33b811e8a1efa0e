/** Why nothing moves at the moment. `storage`: this browser's own store does not answer. */
export type Hold = "offline" | "signed-out" | "other-person" | "refused" | "server" | "storage";

export type Fetch = (url: string, init: RequestInit) => Promise<Response>;

/** Why there is no answer that counts, and what the server said. */
export interface Held {
  hold: Hold;
  message: string | null;
  /** what was sent can never be taken as it is: sent again, it is refused again */
  never?: true;
}

/** One request. @returns its answer when that is a success; its body is for the caller to read to its end */
export async function ask(fetch: Fetch, url: string, init: RequestInit): Promise<Response | Held> {
  let answer: Response;
  try {
    answer = await fetch(url, init);
  } catch {
    return { hold: "offline", message: null };
  }
  if (answer.ok) return answer;
  const said = (await answer.json().catch(() => ({}))) as { message?: string; error?: string };
  const held: Held = { hold: holdOf(answer.status, said.error), message: said.message ?? null };
  return NEVER.has(said.error ?? "") ? { ...held, never: true } : held;
}

/** Words of the server for a part that it will not take, whatever else changes. */
const NEVER = new Set([
  ...["not-a-segment", "no-key-frame", "wrong-length", "too-long", "wrong-kind", "other-bytes", "too-large"],
  "beyond-the-end",
]);

/**
 * Reads an answer to its end. Until then a browser keeps the request with its body: with half a megabyte every second
 * nobody would notice before the memory is full.
 */
export const heard = (answer: Response) =>
  // Its status has told what counts; words that are cut off are no matter.
  answer.text().catch(() => "");

/** What an answer that is no success means. Bytes that were damaged on the way are simply sent again. */
function holdOf(status: number, error: string | undefined): Hold {
  if (status === 401) return "signed-out";
  if (error === "other-person") return "other-person";
  const passing = status >= 500 || status === 408 || status === 429 || error === "wrong-digest" || error === "cut-off";
  return passing ? "server" : "refused";
}

export const json = (method: string, value: unknown): RequestInit => ({
  method,
  body: JSON.stringify(value),
  headers: { "content-type": "application/json" },
});
