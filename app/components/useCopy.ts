import { useSnackbar } from "notistack";
import { useCallback } from "react";

/** Copies text and says so; where the browser refuses, says that instead, so that nobody pastes something else. */
export function useCopy() {
  const { enqueueSnackbar } = useSnackbar();
  return useCallback(
    async (text: string, said = "Link copied"): Promise<boolean> => {
      try {
        await navigator.clipboard.writeText(text);
        enqueueSnackbar(said);
        return true;
      } catch {
        enqueueSnackbar("The browser did not let us copy. Select the link and copy it yourself.", {
          variant: "warning",
        });
        return false;
      }
    },
    [enqueueSnackbar],
  );
}
