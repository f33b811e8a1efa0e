import { readPrompts } from "#core/desk/prompts";
import { useKept } from "./useKept";

/** What only the presenter sees, as it was left on this computer. */
export const usePrompts = () => useKept("clear-nod-prompts", readPrompts);
