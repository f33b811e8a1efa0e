/** Where media bytes are kept. Keys look like paths: `takes/<id>/screen/12-9f3a….m4s`. */
export interface Storage {
  /** Keeps an object. Resolves only once it would survive a power cut. Writing the same key again replaces it. */
  put(key: string, bytes: Uint8Array): Promise<void>;
  /** @throws {MissingObject} */
  get(key: string): Promise<Buffer>;
  /** Removes one object; fine if it is not there. */
  remove(key: string): Promise<void>;
  /** Removes every object below `prefix/`. */
  removeAll(prefix: string): Promise<void>;
}

export class MissingObject extends Error {}
/** There is no room for more. */
export class StorageFull extends Error {}
