import { readWishes, type Wishes } from "#core/desk/wishes";
import { useKept } from "./useKept";

/** What is wanted of recordings: as it was left on this computer, unless something else is to begin with. */
export const useWishes = (first: Wishes | null) => useKept("clear-nod-wishes", readWishes, first);
