import { isPicture, type TrackKind } from "#core/media/tracks";
import { SECOND, type Micros } from "#core/time/micros";
import { sourcesReady } from "./attempt";
import type { EngineLike, EngineListener } from "./engine/engine";
import { within } from "./waits";

export const REHEARSAL: Micros = 10 * SECOND;

/** Ten seconds as they would have been recorded, of each track a file. They never leave this computer. */
export type Rehearsed = Partial<Record<TrackKind, Blob>>;

/** It ends by itself; this is for one that does not. */
const LONGEST_MS = 60_000;

/**
 * Records ten seconds with the very engine of a take, into memory.
 * @param make the engine, with the sources and settings of the next take
 * @param told.begun the moment source time starts, on the shared clock
 * @throws what the signal was given for, or what the engine failed with
 */
export async function rehearse(
  make: (told: EngineListener) => EngineLike,
  signal: AbortSignal,
  told: Pick<EngineListener, "pace"> & { begun: (at: number) => void },
): Promise<Rehearsed> {
  const parts = new Map<TrackKind, ArrayBuffer[]>();
  let done: () => void;
  let failed: (error: unknown) => void;
  const ended = new Promise<void>((yes, no) => ([done, failed] = [yes, no]));
  // It is waited for once it has begun.
  ended.catch(() => undefined);
  const engine = make({
    part: (kind, _number, bytes) => void parts.set(kind, [...(parts.get(kind) ?? []), bytes]),
    failed: (error) => failed(error),
    pace: told.pace,
    limit: () => done(),
    // Nobody is sent it: it is rehearsed again where it matters.
    slept: () => undefined,
  });
  try {
    await sourcesReady(engine, signal);
    told.begun(engine.start(REHEARSAL));
    await within(LONGEST_MS, "The rehearsal did not end by itself.", signal, ended);
    await engine.stop();
  } catch (error) {
    engine.abort();
    throw error;
  }
  return Object.fromEntries(
    [...parts].map(([kind, bytes]) => [kind, new Blob(bytes, { type: typeOf(kind) })]),
  ) as Rehearsed;
}

const typeOf = (kind: TrackKind) => (isPicture(kind) ? "video/mp4" : "audio/mp4");
