import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { Entry } from "#core/layout/entry";
import type { TrackKind } from "#core/media/tracks";
import type { Registered, TakeStart } from "./register";

/** A take that is on this computer. */
export interface KeptTake {
  takeId: string;
  /** what the server is asked for it */
  start: TakeStart;
  /** what it gave; null until it has heard of the take */
  registered: Registered | null;
  title: string;
  startedAt: number;
  /** null until the recorder has stopped */
  expected: Partial<Record<TrackKind, number>> | null;
  /** what happened in it and the server has not heard yet */
  entries: Entry[];
  /** where the server refuses a part of a track for good: it ends before the part with this number */
  endsBefore?: Partial<Record<TrackKind, number>>;
  /** it was thrown away here, and the server has not heard so yet */
  discarded?: true;
  /** it stays here when all of it was sent */
  stays: boolean;
  /** all of it was sent */
  sent?: true;
}

/** Where a take sends its parts. */
export const ingestOf = ({ takeId }: Pick<KeptTake, "takeId">) => `/ingest/${takeId}`;

/** One part on its way: number 0 is the init segment. */
export interface KeptPart {
  takeId: string;
  kind: TrackKind;
  number: number;
  digest: string;
  bytes: ArrayBuffer;
}

export type PartName = Omit<KeptPart, "bytes" | "digest"> & {
  size: number;
  /** the server has it, and it is here all the same */
  sent?: true;
};

/** Where parts are kept on this computer until the server has them. */
export interface PartStore {
  addTake(take: KeptTake): Promise<void>;
  takes(): Promise<KeptTake[]>;
  removeTake(takeId: string): Promise<void>;
  /** Resolves once the part would survive a crash of the browser. */
  put(part: KeptPart): Promise<void>;
  get(name: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<KeptPart | undefined>;
  remove(name: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<void>;
  /** Remembers that the server has a part, and keeps it here. */
  markSent(name: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<void>;
  /** names and sizes of all parts of a take, without their bytes */
  list(takeId: string): Promise<PartName[]>;
}

interface Schema extends DBSchema {
  takes: { key: string; value: KeptTake };
  parts: { key: [string, string, number]; value: KeptPart };
  sizes: { key: [string, string, number]; value: PartName };
}

const ALL = (takeId: string) => IDBKeyRange.bound([takeId], [takeId, []]);

/** The local store in IndexedDB. */
export class BrowserStore implements PartStore {
  #opened: Promise<IDBPDatabase<Schema>> | null = null;

  constructor(private readonly name = "clear-nod") {}

  /** Opened when it is first needed, and again after it was lost: one failure does not stick. */
  get #db(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.#opened = null);
    this.#opened ??= openDB<Schema>(this.name, 3, {
      async upgrade(db, before, _, tx) {
        if (before < 1) {
          db.createObjectStore("takes", { keyPath: "takeId" });
          db.createObjectStore("parts", { keyPath: ["takeId", "kind", "number"] });
          db.createObjectStore("sizes", { keyPath: ["takeId", "kind", "number"] });
        }
        // Takes of the first version told where the camera was in a way of their own.
        if (before === 1)
          for (const take of await tx.objectStore("takes").getAll())
            await tx.objectStore("takes").put({ ...take, entries: [] });
        if (before === 1 || before === 2)
          for (const take of await tx.objectStore("takes").getAll())
            await tx.objectStore("takes").put(ofSecondVersion(take as unknown as TakeBefore));
      },
      // A newer version in another tab must not wait for this one.
      blocking: (_before, _next, event) => {
        (event.target as IDBDatabase).close();
        forget();
      },
      terminated: forget,
    }).catch((error: unknown) => {
      forget();
      throw error;
    });
    return this.#opened;
  }

  async addTake(take: KeptTake): Promise<void> {
    const tx = (await this.#db).transaction("takes", "readwrite", { durability: "strict" });
    await Promise.all([tx.store.put(take), tx.done]);
  }

  async takes(): Promise<KeptTake[]> {
    return (await this.#db).getAll("takes");
  }

  async removeTake(takeId: string): Promise<void> {
    const tx = (await this.#db).transaction(["takes", "parts", "sizes"], "readwrite");
    await Promise.all([
      tx.objectStore("takes").delete(takeId),
      tx.objectStore("parts").delete(ALL(takeId)),
      tx.objectStore("sizes").delete(ALL(takeId)),
      tx.done,
    ]);
  }

  async put(part: KeptPart): Promise<void> {
    const { takeId, kind, number, bytes } = part;
    const tx = (await this.#db).transaction(["parts", "sizes"], "readwrite", { durability: "strict" });
    await Promise.all([
      tx.objectStore("parts").put(part),
      tx.objectStore("sizes").put({ takeId, kind, number, size: bytes.byteLength }),
      tx.done,
    ]);
  }

  async get({ takeId, kind, number }: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<KeptPart | undefined> {
    return (await this.#db).get("parts", [takeId, kind, number]);
  }

  async remove({ takeId, kind, number }: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<void> {
    const tx = (await this.#db).transaction(["parts", "sizes"], "readwrite");
    await Promise.all([
      tx.objectStore("parts").delete([takeId, kind, number]),
      tx.objectStore("sizes").delete([takeId, kind, number]),
      tx.done,
    ]);
  }

  async markSent({ takeId, kind, number }: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<void> {
    const tx = (await this.#db).transaction("sizes", "readwrite");
    const name = await tx.store.get([takeId, kind, number]);
    if (name) await tx.store.put({ ...name, sent: true });
    await tx.done;
  }

  async list(takeId: string): Promise<PartName[]> {
    return (await this.#db).getAll("sizes", ALL(takeId));
  }
}

/** Takes of the second version were all known to the server before they began. */
type TakeBefore = Omit<KeptTake, "start" | "registered" | "stays"> & Registered & { ingest: string };

function ofSecondVersion({ recordingId, token, link, title, takeId, ...rest }: TakeBefore): KeptTake {
  const { startedAt, expected, entries, discarded } = rest;
  const start: TakeStart = { takeId, source: "screen" };
  const registered = { recordingId, token, link, title };
  const take = { takeId, start, registered, title, startedAt, expected, entries, stays: false };
  return discarded ? { ...take, discarded } : take;
}
