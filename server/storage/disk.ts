import { randomBytes } from "node:crypto";
import { constants, createReadStream } from "node:fs";
import { access, mkdir, open, readdir, readFile, rename, rm, stat, type FileHandle } from "node:fs/promises";
import { dirname, join } from "node:path";
import type { Readable } from "node:stream";
import { checkKey, MissingObject, StorageFull, type ByteRange, type Storage, type StoredObject } from "./storage";

/** Storage on a local disk, for `STORAGE_URL=file:/some/dir`. */
export class DiskStorage implements Storage {
  #syncs = new SharedSyncs();
  /** Directories that are known to be there, so that a segment costs no `mkdir`. */
  #made = new Set<string>();

  constructor(private readonly root: string) {}

  put(key: string, bytes: Uint8Array): Promise<void> {
    return this.#write(key, (file) => file.writeFile(bytes));
  }

  putFile(key: string, path: string): Promise<void> {
    return this.#write(key, async (file) => {
      // Each piece goes after the one before it.
      for await (const piece of createReadStream(path)) await file.writeFile(piece as Buffer);
    });
  }

  async #write(key: string, write: (file: FileHandle) => Promise<unknown>): Promise<void> {
    const target = this.#path(key);
    const dir = dirname(target);
    const temporary = join(dir, `.${randomBytes(6).toString("hex")}`);
    try {
      await this.#makeDirectory(dir);
      const file = await open(temporary, "wx", 0o600);
      try {
        await write(file);
        await file.datasync();
      } finally {
        await file.close();
      }
      await rename(temporary, target);
      await this.#syncs.sync(dir);
    } catch (cause) {
      await rm(temporary, { force: true });
      if ((cause as NodeJS.ErrnoException).code === "ENOENT") this.#made.delete(dir);
      if ((cause as NodeJS.ErrnoException).code === "ENOSPC")
        throw new StorageFull("the server's disk is full", { cause });
      throw cause;
    }
  }

  async get(key: string): Promise<Buffer> {
    return readFile(this.#path(key)).catch(absent(key));
  }

  async read(key: string, range?: ByteRange): Promise<Readable> {
    const file = await open(this.#path(key), "r").catch(absent(key));
    return file.createReadStream(range && { start: range.from, end: range.to });
  }

  async *list(prefix: string): AsyncGenerator<StoredObject> {
    // Anything may be removed while it is walked through.
    for (const entry of (await readdir(this.#path(prefix), { withFileTypes: true }).catch(goneIsNull)) ?? []) {
      const key = `${prefix}/${entry.name}`;
      if (entry.isDirectory()) yield* this.list(key);
      // What is being written has a name with a point before it, and becomes an object when it is renamed.
      if (!entry.isFile() || entry.name.startsWith(".")) continue;
      const info = await stat(this.#path(key)).catch(goneIsNull);
      if (info) yield { key, size: info.size, writtenAt: info.mtime };
    }
  }

  async remove(key: string): Promise<void> {
    await rm(this.#path(key), { force: true });
  }

  async removeAll(prefix: string): Promise<void> {
    const dir = this.#path(prefix);
    // What is just being written into it makes it "not empty": tried again until it is.
    await rm(dir, { recursive: true, force: true, maxRetries: 10, retryDelay: 20 });
    for (const made of this.#made) if (made === dir || made.startsWith(dir + "/")) this.#made.delete(made);
  }

  /** There, and to be written to. It is made with what is first kept in it. */
  async ready(): Promise<void> {
    await mkdir(this.root, { recursive: true, mode: 0o700 });
    await access(this.root, constants.W_OK);
  }

  async #makeDirectory(dir: string): Promise<void> {
    if (this.#made.has(dir)) return;
    const first = await mkdir(dir, { recursive: true, mode: 0o700 });
    // A new directory is durable only once its parent is synced too.
    if (first) for (let at = dir; at.length >= first.length; at = dirname(at)) await syncDirectory(dirname(at));
    this.#made.add(dir);
    if (this.#made.size > 10_000) this.#made.clear();
  }

  #path(key: string): string {
    checkKey(key);
    return join(this.root, key);
  }
}

/**
 * Directory syncs, shared by whoever waits for the same one: syncing costs ten times what writing does. A sync that is
 * under way may have begun
 * before a newcomer's rename, so newcomers share the next.
 */
class SharedSyncs {
  #running = new Map<string, Promise<void>>();
  #next = new Map<string, Promise<void>>();

  sync(dir: string): Promise<void> {
    const running = this.#running.get(dir);
    if (!running) return this.#run(dir);
    let next = this.#next.get(dir);
    if (!next) {
      const begin = () => {
        this.#next.delete(dir);
        return this.#run(dir);
      };
      next = running.then(begin, begin);
      this.#next.set(dir, next);
    }
    return next;
  }

  #run(dir: string): Promise<void> {
    const run = syncDirectory(dir).finally(() => this.#running.delete(dir));
    this.#running.set(dir, run);
    return run;
  }
}

function absent(key: string): (cause: NodeJS.ErrnoException) => never {
  return (cause) => {
    if (cause.code === "ENOENT") throw new MissingObject(`nothing is stored under ${key}`, { cause });
    throw cause;
  };
}

function goneIsNull(cause: NodeJS.ErrnoException): null {
  if (cause.code === "ENOENT") return null;
  throw cause;
}

async function syncDirectory(dir: string): Promise<void> {
  const handle = await open(dir, "r");
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
