import { kept } from "../kept";

const UNNAMED = "clear-nod-unnamed";

/**
 * The key of the personal link by which the page was opened, once. It is taken out of the address, so that the address
 * can be passed on.
 */
export function takeInvite(): string | null {
  const hash = new URLSearchParams(location.hash.slice(1));
  const key = hash.get("for");
  if (!key) return null;
  hash.delete("for");
  const rest = hash.toString();
  history.replaceState(history.state, "", location.pathname + location.search + (rest ? `#${rest}` : ""));
  return key;
}

/** Does this browser let senders see by name what was watched? Kept here, for all recordings. */
export const wantsName = (): boolean => kept.get(UNNAMED) === null;
export function keepWantsName(wants: boolean): void {
  if (wants) kept.remove(UNNAMED);
  else kept.set(UNNAMED, "1");
}
