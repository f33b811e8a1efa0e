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
  remove(name: string): void {
    try {
      localStorage.removeItem(name);
    } catch {
      // There is nothing to remove where nothing is kept.
    }
  },
};
