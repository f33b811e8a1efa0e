import { createHash } from "node:crypto";
import type { Readable } from "node:stream";

/** An object that is there, as a listing tells it. */
export interface StoredObject {
  key: string;
  /** bytes */
  size: number;
  writtenAt: Date;
}

/** Bytes `from` to `to`, both of them included, as in a Range field (RFC 9110, 14.1.2). */
export interface ByteRange {
  from: number;
  to: number;
}

/** What bytes are known by (SHA-256). */
export const digestOf = (bytes: Uint8Array): Buffer => createHash("sha256").update(bytes).digest();

/** What a digest adds to a key: other bytes have another name. */
export const shortDigest = (digest: Buffer): string => digest.toString("hex").slice(0, 16);

/** Can something be called so? */
export const isShortDigest = (text: string): boolean => /^[\da-f]{16}$/.test(text);

/** Where media bytes are kept. Keys look like paths: `takes/<id>/screen/12-9f3a….m4s`. */
export interface Storage {
  /** Keeps an object. Resolves only once it would survive a power cut. Writing the same key again replaces it. */
  put(key: string, bytes: Uint8Array): Promise<void>;
  /** The same of a file, of whatever size: no more than a few pieces of it is in memory. */
  putFile(key: string, path: string): Promise<void>;
  /** The whole object. @throws {MissingObject} */
  get(key: string): Promise<Buffer>;
  /**
   * The object as a stream, or a part of it; a part that goes beyond the end stops there.
   * @throws {MissingObject}
   */
  read(key: string, range?: ByteRange): Promise<Readable>;
  /** Every object below `prefix/`, a page at a time and in no order that could be relied on. */
  list(prefix: string): AsyncIterable<StoredObject>;
  /** Removes one object; fine if it is not there. */
  remove(key: string): Promise<void>;
  /** Removes every object below `prefix/`. */
  removeAll(prefix: string): Promise<void>;
  /** Can be reached, and read. @throws where it cannot */
  ready(): Promise<void>;
}

export class MissingObject extends Error {}
/** There is no room for more. */
export class StorageFull extends Error {}

/** @throws {Error} for a key that is no path below the storage's own place */
export function checkKey(key: string): void {
  const parts = key.split("/");
  if (parts.some((part) => part === "" || part === "." || part === "..")) throw new Error(`not a storage key: ${key}`);
}
