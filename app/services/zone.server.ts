import { readCookie } from "#server/http/cookies";
import { knownZone } from "#server/http/fields";
import { ZONE_COOKIE } from "../components/zone";

/** Where the days of whoever asks begin, as their browser has told; UTC where it has not, or tells what is no zone. */
export const zoneOf = (request: Request): string =>
  knownZone(readCookie(request.headers.get("cookie") ?? undefined, ZONE_COOKIE) ?? "UTC");
