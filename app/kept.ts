/**
 * What this browser keeps between visits. A browser may keep nothing for pages, or be full (`localStorage` then throws
 * at every touch): everything works then as on a first visit.
 */
export const kept = {
  get(name: string): string | null {
    try {
      return localStorage.getItem(name);
    } catch {
      return null;
    }
  },
  set(name: string, value: string): void {
    try {
      localStorage.setItem(name, value);
    } catch {
      // Not kept: asked again next time.
    }
  },
  /** What was written; null where nothing was, or nothing that can be read. Its form is for the caller to check. */
  read(name: string): unknown {
    try {
      return JSON.parse(this.get(name) ?? "null");
    } catch {
      return null;
    }
  },
  /** Keeps something that JSON can hold. */
  write(name: string, value: unknown): void {
    this.set(name, JSON.stringify(value));
  },
  remove(name: string): void {
    try {
      localStorage.removeItem(name);
    } catch {
      // There is nothing to remove where nothing is kept.
    }
  },
};
