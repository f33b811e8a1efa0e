import { useSnackbar } from "notistack";
import { useCallback, useState } from "react";
import type { Said } from "#server/answers/sayings";
import { Refused, type AnswersStore } from "./store";

/** Says something and tells the person when it was not taken. @returns whether it was */
export function useSay(store: AnswersStore | null): { say: (said: Said) => Promise<boolean>; busy: boolean } {
  const { enqueueSnackbar } = useSnackbar();
  const [busy, setBusy] = useState(false);
  const say = useCallback(
    async (said: Said) => {
      if (!store) return false;
      setBusy(true);
      try {
        await store.say(said);
        return true;
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        enqueueSnackbar(error.message, { variant: "error", autoHideDuration: 8_000 });
        return false;
      } finally {
        setBusy(false);
      }
    },
    [store, enqueueSnackbar],
  );
  return { say, busy };
}
