import type { NewTake } from "./attempt";
import type { NewRecording, StartTake } from "./recorder-state";
import type { Fetch, Hold } from "./outbox/answer";
import { register, type TakeStart } from "./outbox/register";

/** How long Record waits for the server. What takes longer is told while it records. */
const PATIENCE_MS = 4_000;

/** Where the server only cannot be reached: the take begins all the same, and is registered later. */
const LATER: readonly Hold[] = ["offline", "server"];

/** No more than the server asks for. */
function startOf(take: NewRecording): TakeStart {
  const { source, takeOf, person, title, audience, folder, ask, description, tags } = take;
  const given = {
    takeId: crypto.randomUUID(),
    source,
    ...(person && { by: person.id, workspace: person.workspaceId }),
  };
  return takeOf ? { ...given, recording: takeOf } : { ...given, title, audience, folder, ask, description, tags };
}

/**
 * Begins a take: with its link where the server hears of it, else without one for now.
 * @param patienceMs for tests
 */
export const starter =
  (fetch: Fetch, patienceMs = PATIENCE_MS): StartTake =>
  async (recording): Promise<NewTake> => {
    const start = startOf(recording);
    const take = { takeId: start.takeId, start, title: recording.title, stays: recording.stays };
    const got = await register(fetch, start, AbortSignal.timeout(patienceMs));
    if (!("hold" in got)) return { ...take, registered: got, title: got.title };
    if (LATER.includes(got.hold)) return { ...take, registered: null };
    throw new Error(
      got.message ?? "The server could not start a recording. Nothing was recorded. Try again in a moment.",
    );
  };
