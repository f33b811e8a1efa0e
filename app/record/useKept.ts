import { useState } from "react";
import { kept } from "../kept";

/**
 * Something that this computer remembers, and a way to change parts of it.
 * @param read makes a whole of what was kept, whatever that is
 * @param first instead of what was kept
 */
export function useKept<T extends object>(name: string, read: (kept: unknown) => T, first: T | null = null) {
  const [value, setValue] = useState(() => first ?? read(kept.read(name)));
  const change = (part: Partial<T>) =>
    setValue((now) => {
      const next = { ...now, ...part };
      kept.write(name, next);
      return next;
    });
  return [value, change] as const;
}
