import { parseHistory, type History } from "#core/recipe/history";
import { RecipeError } from "#core/recipe/recipe-error";
import { kept } from "../kept";

/** An edit, with the version that the server had when it was last in step with it, and the revision that it changes. */
export interface Saved {
  version: number;
  seen: number;
  history: History;
}

/** What came of sending: taken; not reached; another window has saved something else; or it is not taken. */
export type Answer =
  { is: "taken"; version: number | null } | { is: "unreached" } | { is: "other" | "refused"; why: string };

/** Sends a deed of the draft to the server. Never throws. */
export type Send = (deed: Record<string, string>) => Promise<Answer>;

/** A connection that says nothing for so long is none. */
const MOST_MS = 30_000;

export const sender =
  (id: string): Send =>
  async (deed) => {
    try {
      const answer = await fetch(`/recordings/${id}/draft`, {
        method: "POST",
        body: new URLSearchParams(deed),
        signal: AbortSignal.timeout(MOST_MS),
      });
      // Too often, or just not now: it is tried again.
      if (answer.status >= 500 || answer.status === 429) return { is: "unreached" };
      const { error, version } = (await answer.json()) as { error: string | null; version?: number | null };
      if (answer.ok) return { is: "taken", version: version ?? null };
      return { is: answer.status === 409 ? "other" : "refused", why: error ?? "The server did not take it." };
    } catch {
      return { is: "unreached" };
    }
  };

const nameOf = (id: string) => `clear-nod-edit:${id}`;

/** What this computer has of an edit and the server does not; null where there is nothing that can be read. */
export function unsavedHere(id: string): Saved | null {
  const found = kept.read(nameOf(id)) as Partial<Saved> | null;
  if (!found || !Number.isSafeInteger(found.version) || !Number.isSafeInteger(found.seen)) return null;
  try {
    return { version: found.version!, seen: found.seen!, history: parseHistory(found.history) };
  } catch (error) {
    if (error instanceof RecipeError) return null;
    throw error;
  }
}

export const keepHere = (id: string, edit: Saved): void => kept.write(nameOf(id), edit);
export const forgetHere = (id: string): void => kept.remove(nameOf(id));
