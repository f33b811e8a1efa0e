import { fromSeconds, toSeconds, type Micros } from "../time/micros";

/** A moment, or a stretch when `until` is given. */
export interface Anchor {
  at: Micros;
  until: Micros | null;
}

/**
 * The temporal dimension of a Media Fragments URI: `t=12.5`, `t=12.5,20`, `t=npt:10,20`, `t=,20`, `t=1:02:03.5`.
 * Of several, the last counts; what is not valid is ignored (null).
 * Source: W3C Media Fragments URI 1.0, 4.2.1 and 5.1.
 */
export function parseFragment(fragment: string): Anchor | null {
  let found: Anchor | null = null;
  for (const pair of fragment.replace(/^#/, "").split("&")) {
    const eq = pair.indexOf("=");
    if (eq < 0 || decode(pair.slice(0, eq)) !== "t") continue;
    const value = decode(pair.slice(eq + 1));
    const [, from, , to] = /^(?:npt:)?([\d:.]+)?(,([\d:.]+))?$/.exec(value ?? "") ?? [];
    const at = from === undefined ? (to === undefined ? null : 0) : npt(from);
    const until = to === undefined ? null : npt(to);
    if (at === null || (to !== undefined && (until === null || until <= at))) continue;
    found = { at, until };
  }
  return found;
}

/** Written the shortest way, to the microsecond: `t=12.5,20`. */
export function writeFragment({ at, until }: Anchor): string {
  return until === null ? `t=${toSeconds(at)}` : `t=${toSeconds(at)},${toSeconds(until)}`;
}

/** Normal play time: seconds, `mm:ss` or `hh:mm:ss`, each with a fraction. */
function npt(text: string): Micros | null {
  if (/^\d+(\.\d*)?$/.test(text)) return fromSeconds(Number(text));
  const parts = /^(?:(\d+):)?([0-5]\d):([0-5]\d(?:\.\d*)?)$/.exec(text);
  return parts ? fromSeconds(Number(parts[1] ?? 0) * 3600 + Number(parts[2]) * 60 + Number(parts[3])) : null;
}

function decode(text: string): string | null {
  try {
    return decodeURIComponent(text);
  } catch {
    return null;
  }
}
