import type { IncomingMessage, ServerResponse } from "node:http";
import type { AccessFacts } from "../access/facts";
import { subjectOf, type Viewers, type Who } from "../answers/viewers";
import { Problem } from "../http/problem";
import type { Streams } from "./streams";

const PATTERN = /^\/w\/([\w-]+)\/events$/;
const NEWS = "/news";

/** Who asks for events: besides the viewer, the session by which they are signed in. */
export type ListeningWho = Who & { session: string | null };

export const isEventsPath = (path: string) => path === NEWS || PATTERN.test(path);

/**
 * `GET /w/<token>/events?after=<number>`: what happens at a recording, as it happens. A browser that comes back says
 * the last number itself.
 * `GET /news`: that something has changed for the member who is signed in.
 */
export function eventsHandler(parts: { access: AccessFacts; viewers: Viewers; streams: Streams }) {
  return async (req: IncomingMessage, res: ServerResponse, path: string, who: ListeningWho): Promise<void> => {
    if (req.method !== "GET") throw new Problem(405, "wrong-method", "This address takes GET.");
    const listener = { person: who.member?.id ?? null, session: who.session, address: who.address };
    if (path === NEWS) {
      if (!who.member) throw new Problem(401, "signed-out", "Sign in first.");
      return parts.streams.openNews(who.member.id, res, listener);
    }
    const token = PATTERN.exec(path)![1]!;
    const allowed = () => parts.access.require(subjectOf(who), "watch", token);
    const recording = await allowed();
    const viewer = await parts.viewers.find(recording, who);
    if (!viewer) throw new Problem(403, "not-opened", "Open the recording's page in this browser first.");
    const after = Number(req.headers["last-event-id"] ?? new URL(req.url!, "http://x").searchParams.get("after") ?? 0);
    if (!Number.isSafeInteger(after) || after < 0)
      throw new Problem(400, "not-valid", "This is no number of an event.");
    await parts.streams.open(recording.id, viewer, after, res, listener, allowed);
  };
}
