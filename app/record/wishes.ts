import { useState } from "react";
import { readWishes, type Wishes } from "#core/desk/wishes";
import { kept } from "../kept";

const WISHES = "clear-nod-wishes";

/** What is wanted of recordings: as it was left on this computer, unless something else is to begin with. */
export function useWishes(first: Wishes | null) {
  const [wishes, setWishes] = useState(() => first ?? remembered());
  const wish = (change: Partial<Wishes>) =>
    setWishes((now) => {
      const next = { ...now, ...change };
      kept.set(WISHES, JSON.stringify(next));
      return next;
    });
  return [wishes, wish] as const;
}

function remembered(): Wishes {
  try {
    return readWishes(JSON.parse(kept.get(WISHES) ?? "null"));
  } catch {
    return readWishes(null);
  }
}
