import Edit from "@mui/icons-material/Edit";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import { useSnackbar } from "notistack";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { TITLE_MAX, tidyTitle } from "#core/title/title";

/**
 * A title that is changed where it stands: Enter keeps, Escape puts back. `children` shows it while it is not being
 * changed.
 */
export function EditableTitle({
  id,
  title,
  version,
  children,
}: {
  id: string;
  title: string;
  version: number;
  children: (shown: string) => ReactNode;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { enqueueSnackbar } = useSnackbar();
  const { revalidate } = useRevalidator();
  /** the version of the title that is being changed; null while none is */
  const [editing, setEditing] = useState<number | null>(null);
  const given = useRef("");
  const button = useRef<HTMLButtonElement>(null);
  const shown = fetcher.formData ? String(fetcher.formData.get("title")) : title;
  const error = fetcher.state === "idle" ? fetcher.data?.error : null;

  useEffect(() => {
    if (!error) return;
    // What stands there now is shown: after a refusal the page does not ask by itself.
    void revalidate();
    enqueueSnackbar(`The title was not changed to “${given.current}”. ${error}`, {
      variant: "error",
      autoHideDuration: 12_000,
    });
  }, [error, enqueueSnackbar, revalidate, fetcher.data]);

  const leave = () => {
    setEditing(null);
    requestAnimationFrame(() => button.current?.focus());
  };
  const keep = (text: string) => {
    const tidy = tidyTitle(text);
    if (tidy && tidy !== title && editing !== null) {
      given.current = tidy;
      const to = { method: "post", action: `/recordings/${id}` } as const;
      void fetcher.submit({ do: "rename", title: tidy, version: editing }, to);
    }
    leave();
  };

  if (editing !== null) {
    return (
      <InputBase
        autoFocus
        fullWidth
        defaultValue={shown}
        inputProps={{ "aria-label": "Title", maxLength: TITLE_MAX }}
        onFocus={(e) => e.target.select()}
        onBlur={(e) => keep(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") keep((e.target as HTMLInputElement).value);
          if (e.key === "Escape") leave();
        }}
        sx={{
          font: "inherit",
          borderBottom: "2px solid",
          borderColor: "primary.main",
          "& input": { p: 0, height: "auto" },
        }}
      />
    );
  }
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, minWidth: 0 }}>
      {children(shown)}
      <IconButton
        ref={button}
        size="small"
        aria-label={`Change the title of ${shown}`}
        onClick={() => setEditing(version)}
      >
        <Edit fontSize="inherit" />
      </IconButton>
    </Box>
  );
}
