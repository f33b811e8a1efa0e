import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import type { Picture } from "#server/editing/pictures";

interface Props {
  /** where it is sent to */
  to: string;
  label: string;
  disabled?: boolean;
  onTaken: (picture: Picture | null) => void;
}

/** The most that is taken, as the server says it. */
const MOST_MB = 5;

/** Sends a picture from this computer. */
export function PictureButton({ to, label, disabled, onTaken }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const send = async (file: File) => {
    if (file.size > MOST_MB * 1024 * 1024) return setError(`This picture is larger than ${MOST_MB} MB.`);
    setBusy(true);
    setError(null);
    try {
      const answer = await fetch(to, { method: "POST", body: file });
      const { error, picture } = (await answer.json()) as { error: string | null; picture?: Picture | null };
      if (error) setError(error);
      else onTaken(picture ?? null);
    } catch {
      setError("There is no connection. The picture was not sent.");
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button
        size="small"
        variant="outlined"
        disabled={disabled || busy}
        onClick={() => field.current?.click()}
        sx={{ justifySelf: "start" }}
      >
        {busy ? "Sending the picture" : label}
      </Button>
      <input
        ref={field}
        type="file"
        hidden
        aria-label={label}
        accept="image/png,image/jpeg,image/webp,image/svg+xml"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = "";
          if (file) void send(file);
        }}
      />
      {error && (
        <Typography variant="body2" color="error" role="alert">
          {error}
        </Typography>
      )}
    </>
  );
}
