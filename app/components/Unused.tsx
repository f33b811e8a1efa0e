import { lastDay, sayUnused } from "#core/retention/retention";
import { saidDay, useInBrowser } from "./When";

/** Why a recording goes, and when. */
export function Unused({ goesAt }: { goesAt: string }) {
  const day = lastDay(goesAt);
  const inBrowser = useInBrowser();
  return sayUnused(inBrowser ? saidDay(day) : day);
}
