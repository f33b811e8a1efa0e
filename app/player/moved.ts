import type { Micros } from "#core/time/micros";

/** The revision that an address plays: `/w/<token>/r<revision>/…`. */
export function revisionOf(url: string): number | null {
  const found = /\/r(\d+)\//.exec(url);
  return found ? Number(found[1]) : null;
}

/**
 * Where moments of an earlier revision are shown now. Where the server cannot be asked they stay as they are.
 * @param at at most four
 */
export async function placesNow(token: string, revision: number, at: readonly Micros[]): Promise<Micros[]> {
  const query = new URLSearchParams([["revision", String(revision)], ...at.map((moment) => ["at", String(moment)])]);
  try {
    const answer = await fetch(`/w/${token}/place?${query}`);
    if (!answer.ok) return [...at];
    return ((await answer.json()) as { at: Micros[] }).at;
  } catch {
    return [...at];
  }
}
