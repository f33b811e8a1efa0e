import { Transform, type Readable } from "node:stream";
import { askOutward, PrivateAddress, type Answered, type Asking } from "../http/outward";
import { PlaceProblem } from "./way";

const LIMITS = { withinMs: 60_000, mostBytes: 4_000 };

/** By whom a place is asked. */
export interface Asker {
  /** what shows that we may */
  authorization: string | null;
  /** may an address like this be asked? */
  allows: (address: string) => boolean;
  signal?: AbortSignal;
}

/**
 * Asks something of a place, for as long as something comes or goes.
 * @throws {PlaceProblem} where nobody answers, or nothing may be asked
 */
export async function askPlace(
  url: URL,
  { headers, ...asking }: Omit<Asking, "headers"> & Partial<Pick<Asking, "headers">>,
  { authorization, allows, signal }: Asker,
): Promise<Answered> {
  try {
    return await askOutward(
      url,
      { ...asking, headers: { ...(authorization !== null && { authorization }), ...headers } },
      { ...LIMITS, allows, signal },
    );
  } catch (error) {
    signal?.throwIfAborted();
    if (error instanceof PrivateAddress) throw new PlaceProblem(error.message);
    throw new PlaceProblem("Nobody answers at this address.", true);
  }
}

/** What is read, as it is read; told how much that is. Bytes. Whoever destroys it ends the source as well. */
export function counted(source: Readable, onBytes: (read: number) => void): Readable {
  let read = 0;
  const through = new Transform({
    transform(bytes: Buffer, _, done) {
      onBytes((read += bytes.length));
      done(null, bytes);
    },
  });
  through.once("close", () => source.destroy());
  source.on("error", (error) => through.destroy(error));
  return source.pipe(through);
}

/** An address within the folder at another one. */
export function within(folder: URL, path: string): URL {
  return new URL(path, folder.pathname.endsWith("/") ? folder : new URL(`${folder.href}/`));
}

/** There is nothing at that address, or not any more. */
export const isGone = ({ status }: Pick<Answered, "status">): boolean => status === 404 || status === 410;

/** @throws {PlaceProblem} where a deed was not done, with words for why */
export function expectDone({ status }: Pick<Answered, "status">, deed: string, whys: Record<number, string>): void {
  if (status >= 200 && status < 300) return;
  const why = whys[status] ?? `it answers ${status}`;
  // What has a reason of its own does not pass by itself.
  throw new PlaceProblem(`The server did not ${deed}: ${why}.`, status >= 500 && !(status in whys));
}
