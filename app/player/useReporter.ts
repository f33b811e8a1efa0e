import { useEffect } from "react";
import type { AnswersStore } from "../answers/store";
import type { Player } from "./player";
import { SpanReporter } from "./reporter";

/** Reports what is played, once the server knows this browser. */
export function useReporter(token: string, player: Player | null, store: AnswersStore | null): void {
  useEffect(() => {
    if (!player || !store) return;
    const reporter = new SpanReporter(token, player, () => store.meet());
    void store.ready.then(() => reporter.begin());
    return () => reporter.destroy();
  }, [token, player, store]);
}
