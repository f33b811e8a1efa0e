import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { UNNAMED_FILMS, UNNAMED_PARTS, UNNAMED_POSTERS } from "./sql";

/** Objects that are looked up in one statement. */
const AT_ONCE = 500;
/** What is younger may still get its row. */
const AGE_MS = 24 * 3600 * 1000;

const PART = /^takes\/([\da-f-]{36})\/([\w-]+)\/(?:init|(-?\d+))-[^/]+$/;
/** What is made of a recording. */
const MADE = /^(?:posters|films)\/([\da-f-]{36})\/.+$/;

/**
 * Removes stored objects that no row names: a process died between the two, or a job wrote while what it was for was
 * erased. Only where no row can come any more: of takes and recordings that are gone, and of takes that are complete.
 * Walks through the storage instead of keeping a ledger, so that taking in a segment costs no more than it did.
 * @returns how many were removed
 */
export async function sweepStorage(db: Database, storage: Storage, now = Date.now()): Promise<number> {
  let removed = 0;
  for (const [prefix, unnamed] of [
    ["takes", (keys: string[]) => unnamedParts(db, keys)],
    ["posters", (keys: string[]) => unnamedOf(db, UNNAMED_POSTERS, keys)],
    ["films", (keys: string[]) => unnamedOf(db, UNNAMED_FILMS, keys)],
  ] as const) {
    let some: string[] = [];
    const look = async () => {
      for (const key of await unnamed(some)) {
        await storage.remove(key);
        removed++;
      }
      some = [];
    };
    for await (const { key, writtenAt } of storage.list(prefix)) {
      if (now - writtenAt.getTime() > AGE_MS) some.push(key);
      if (some.length >= AT_ONCE) await look();
    }
    await look();
  }
  return removed;
}

async function unnamedParts(db: Database, keys: string[]): Promise<string[]> {
  const parts = keys.flatMap((key) => {
    const [, takeId, name, number] = PART.exec(key) ?? [];
    return takeId ? [{ key, takeId, name, number: number === undefined ? null : Number(number) }] : [];
  });
  if (parts.length === 0) return [];
  const rows = await db.rows<{ key: string }>(UNNAMED_PARTS, [
    parts.map((p) => p.key),
    parts.map((p) => p.takeId),
    parts.map((p) => p.name),
    parts.map((p) => p.number),
  ]);
  return rows.map((row) => row.key);
}

/** @param statement of keys, and of the recordings that they say */
async function unnamedOf(db: Database, statement: string, keys: string[]): Promise<string[]> {
  const made = keys.flatMap((key) => {
    const [, recordingId] = MADE.exec(key) ?? [];
    return recordingId ? [{ key, recordingId }] : [];
  });
  if (made.length === 0) return [];
  const bind = [made.map(({ key }) => key), made.map(({ recordingId }) => recordingId)];
  return (await db.rows<{ key: string }>(statement, bind)).map(({ key }) => key);
}
