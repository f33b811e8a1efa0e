import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { Entry } from "#core/layout/entry";
import type { TrackKind } from "#core/media/tracks";

/** A take whose parts are not all on the server yet. */
export interface KeptTake {
  takeId: string;
  recordingId: string;
  token: string;
  ingest: string;
  link: string;
  title: string;
  startedAt: number;
  /** null until the recorder has stopped */
  expected: Partial<Record<TrackKind, number>> | null;
  /** what happened in it and the server has not heard yet */
  entries: Entry[];
  /** it was thrown away here, and the server has not heard so yet */
  discarded?: true;
}

/** One part on its way: number 0 is the init segment. */
export interface KeptPart {
  takeId: string;
  kind: TrackKind;
  number: number;
  digest: string;
  bytes: ArrayBuffer;
}

export type PartName = Omit<KeptPart, "bytes" | "digest"> & { size: number };

/** Where parts are kept on this computer until the server has them. */
export interface PartStore {
  addTake(take: KeptTake): Promise<void>;
  takes(): Promise<KeptTake[]>;
  removeTake(takeId: string): Promise<void>;
  /** Resolves once the part would survive a crash of the browser. */
  put(part: KeptPart): Promise<void>;
  get(name: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<KeptPart | undefined>;
  remove(name: Pick<KeptPart, "takeId" | "kind" | "number">): Promise<void>;
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
    this.#opened ??= openDB<Schema>(this.name, 2, {
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

  async list(takeId: string): Promise<PartName[]> {
    return (await this.#db).getAll("sizes", ALL(takeId));
  }
}
