import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Form, useNavigation } from "react-router";

export interface Failure {
  errors: Record<string, string>;
  values: Record<string, string>;
}

type Field = Pick<TextFieldProps, "label" | "type" | "autoComplete" | "helperText" | "autoFocus" | "defaultValue"> & {
  name: string;
};

/** A page that is one short form. Errors stand at their field; the first one gets the focus. */
export function FormPage({
  title,
  fields,
  button,
  failure,
  children,
  more,
  to,
}: {
  title: string;
  fields: Field[];
  button: string;
  failure?: Failure;
  children: ReactNode;
  /** more of the form, below its fields */
  more?: ReactNode;
  to?: string;
}) {
  const busy = useNavigation().state !== "idle";
  const firstWrong = fields.find((f) => failure?.errors[f.name])?.name;
  return (
    <Box sx={{ maxWidth: 420, mx: "auto", px: 2, py: { xs: 4, md: 8 } }}>
      <Typography variant="h1" sx={{ mb: 3 }}>
        {title}
      </Typography>
      <Form method="post" noValidate key={JSON.stringify(failure ?? null)}>
        {to && <input type="hidden" name="to" value={to} />}
        {failure?.errors.form && (
          <Alert severity="error" role="alert" sx={{ mb: 2 }}>
            {failure.errors.form}
          </Alert>
        )}
        {fields.map(({ name, helperText, autoFocus, defaultValue = "", ...field }) => (
          <TextField
            key={name}
            {...field}
            name={name}
            fullWidth
            margin="normal"
            required
            autoFocus={firstWrong ? firstWrong === name : autoFocus}
            defaultValue={failure?.values[name] ?? defaultValue}
            error={Boolean(failure?.errors[name])}
            helperText={failure?.errors[name] ?? helperText}
            slotProps={{ htmlInput: { "aria-invalid": Boolean(failure?.errors[name]) } }}
          />
        ))}
        {more}
        <Button type="submit" variant="contained" size="large" fullWidth sx={{ mt: 2 }} disabled={busy}>
          {busy ? "One moment" : button}
        </Button>
      </Form>
      <Typography component="div" sx={{ mt: 3 }}>
        {children}
      </Typography>
    </Box>
  );
}
