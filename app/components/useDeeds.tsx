import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { useEffect } from "react";
import { useFetcher } from "react-router";
import type { LibraryRow } from "#server/recordings/rows";
import type { RowDeed } from "./LedgerRow";

/** Carries out what a row asks for. Deleting asks nothing: it can be undone. */
export function useDeeds() {
  const fetcher = useFetcher<{ error: string | null }>();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const error = fetcher.state === "idle" ? fetcher.data?.error : null;
  useEffect(() => {
    if (error) enqueueSnackbar(error, { variant: "error" });
  }, [error, enqueueSnackbar]);

  const send = (row: LibraryRow, deed: RowDeed | { do: "restore" }) =>
    fetcher.submit({ ...deed }, { method: "post", action: `/recordings/${row.id}` });
  return (row: LibraryRow, deed: RowDeed) => {
    if (deed.do === "erase" && !window.confirm(`Erase “${row.title}” for good? This cannot be undone.`)) return;
    void send(row, deed);
    if (deed.do === "spare" && deed.spared) enqueueSnackbar(`“${row.title}” stays, used or not`);
    if (deed.do !== "delete") return;
    enqueueSnackbar(`Deleted “${row.title}”`, {
      autoHideDuration: 12_000,
      action: (key) => (
        <Button
          sx={{ color: "marigold.main" }}
          onClick={() => {
            closeSnackbar(key);
            void send(row, { do: "restore" });
          }}
        >
          Undo
        </Button>
      ),
    });
  };
}
