import { randomBytes } from "node:crypto";
import { mkdir, open, readFile, rename, rm } from "node:fs/promises";
import { dirname, join, normalize } from "node:path";
import { MissingObject, StorageFull, type Storage } from "./storage";

/** Storage on a local disk, for `STORAGE_URL=file:/some/dir`. */
export class DiskStorage implements Storage {
  #syncs = new SharedSyncs();
  /** Directories that are known to be there, so that a segment costs no `mkdir`. */
  #made = new Set<string>();

  constructor(private readonly root: string) {}

  async put(key: string, bytes: Uint8Array): Promise<void> {
    const target = this.#path(key);
    const dir = dirname(target);
    const temporary = join(dir, `.${randomBytes(6).toString("hex")}`);
    try {
      await this.#makeDirectory(dir);
      const file = await open(temporary, "wx", 0o600);
      try {
        await file.writeFile(bytes);
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
    try {
      return await readFile(this.#path(key));
    } catch (cause) {
      if ((cause as NodeJS.ErrnoException).code === "ENOENT")
        throw new MissingObject(`nothing is stored under ${key}`, { cause });
      throw cause;
    }
  }

  async remove(key: string): Promise<void> {
    await rm(this.#path(key), { force: true });
  }

  async removeAll(prefix: string): Promise<void> {
    const dir = this.#path(prefix);
    await rm(dir, { recursive: true, force: true });
    for (const made of this.#made) if (made === dir || made.startsWith(dir + "/")) this.#made.delete(made);
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
    const path = normalize(key);
    if (path.startsWith("..") || path.startsWith("/") || path === ".") throw new Error(`not a storage key: ${key}`);
    return join(this.root, path);
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

async function syncDirectory(dir: string): Promise<void> {
  const handle = await open(dir, "r");
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
