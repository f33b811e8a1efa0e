import { useState } from "react";
import { readPrompts, type Prompts } from "#core/desk/prompts";
import { kept } from "../kept";

const PROMPTS = "clear-nod-prompts";

/** What only the presenter sees, as it was left on this computer. */
export function usePrompts() {
  const [prompts, setPrompts] = useState<Prompts>(() => {
    try {
      return readPrompts(JSON.parse(kept.get(PROMPTS) ?? "null"));
    } catch {
      return readPrompts(null);
    }
  });
  const change = (part: Partial<Prompts>) =>
    setPrompts((now) => {
      const next = { ...now, ...part };
      kept.set(PROMPTS, JSON.stringify(next));
      return next;
    });
  return [prompts, change] as const;
}
