import Edit from "@mui/icons-material/Edit";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import { useSnackbar } from "notistack";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { useFetcher } from "react-router";
import { TITLE_MAX, tidyTitle } from "#core/title/title";

/**
 * A title that is changed where it stands: Enter keeps, Escape puts back. `children` shows it while it is not being
 * changed.
 */
export function EditableTitle({
  id,
  title,
  children,
}: {
  id: string;
  title: string;
  children: (shown: string) => ReactNode;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { enqueueSnackbar } = useSnackbar();
  const [editing, setEditing] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const shown = fetcher.formData ? String(fetcher.formData.get("title")) : title;
  const error = fetcher.state === "idle" ? fetcher.data?.error : null;

  useEffect(() => {
    if (error) enqueueSnackbar(`The title was not changed. ${error}`, { variant: "error" });
  }, [error, enqueueSnackbar]);

  const leave = () => {
    setEditing(false);
    requestAnimationFrame(() => button.current?.focus());
  };
  const keep = (text: string) => {
    const tidy = tidyTitle(text);
    if (tidy && tidy !== title)
      void fetcher.submit({ do: "rename", title: tidy }, { method: "post", action: `/recordings/${id}` });
    leave();
  };

  if (editing) {
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
        onClick={() => setEditing(true)}
      >
        <Edit fontSize="inherit" />
      </IconButton>
    </Box>
  );
}
