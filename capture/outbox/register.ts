import type { FirstAudience } from "#core/access/access";
import type { NewAsk } from "#core/answers/kinds";
import type { TakeSource } from "#core/media/tracks";
import type { About } from "#core/title/about";
import { ask, json, type Fetch, type Held } from "./answer";

/** What the server is asked for a take. The take has its id from here, so that it may be asked for more than once. */
export interface TakeStart extends Partial<About> {
  takeId: string;
  /** whose take it is, and in which workspace: not whoever happens to be signed in when the server hears of it */
  by?: string;
  workspace?: string;
  source: TakeSource;
  /** the recording that it is another take of */
  recording?: string;
  title?: string;
  audience?: FirstAudience;
  folder?: string | null;
  ask?: NewAsk | null;
}

/** What the server gives for it. */
export interface Registered {
  recordingId: string;
  token: string;
  link: string;
  title: string;
}

/** Tells the server of a take. @returns why not, where it did not hear */
export async function register(fetch: Fetch, start: TakeStart, signal?: AbortSignal): Promise<Registered | Held> {
  const answer = await ask(fetch, "/takes", { ...json("POST", start), signal });
  if (!(answer instanceof Response)) return answer;
  try {
    const { recordingId, token, link, title } = (await answer.json()) as Registered;
    return { recordingId, token, link, title };
  } catch {
    // It broke off in the middle: asked once more, it says the same.
    return { hold: "offline", message: null };
  }
}
