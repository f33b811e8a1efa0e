import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { Folded } from "../components/Folded";
import { FormError } from "../components/FormError";

type Field = Pick<TextFieldProps, "label" | "type" | "autoComplete" | "helperText" | "defaultValue"> & { name: string };

/** Something of an account in one line, with what it is now; opened, it can be changed. */
export function Fold({
  title,
  now,
  deed,
  fields,
  button,
  done,
}: {
  title: string;
  now: string;
  deed: string;
  fields: readonly Field[];
  button: string;
  /** what is said once it is done */
  done: string;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const form = useRef<HTMLFormElement>(null);
  const { state, data } = fetcher;
  const saved = state === "idle" && data?.error === null;
  useEffect(() => {
    if (saved) form.current?.reset();
  }, [saved]);
  return (
    <Folded title={title} value={now}>
      <fetcher.Form method="post" ref={form}>
        <input type="hidden" name="do" value={deed} />
        <Box sx={{ display: "grid", gap: 1.5, maxWidth: 420 }}>
          {fields.map((field) => (
            <TextField key={field.name} {...field} size="small" required />
          ))}
          <Button type="submit" variant="outlined" disabled={state !== "idle"} sx={{ justifySelf: "start" }}>
            {button}
          </Button>
          <FormError error={data?.error} />
          {saved && <Typography role="status">{done}</Typography>}
        </Box>
      </fetcher.Form>
    </Folded>
  );
}
