import Button from "@mui/material/Button";
import { useRef } from "react";
import type { Picture } from "#server/editing/pictures";
import { FormError } from "./FormError";
import { usePictureSent } from "./usePictureSent";

interface Props {
  /** where it is sent to */
  to: string;
  label: string;
  disabled?: boolean;
  onTaken: (picture: Picture | null) => void;
}

/** Sends a picture from this computer. */
export function PictureButton({ to, label, disabled, onTaken }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const { send, busy, error } = usePictureSent(to, onTaken);
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
      <FormError error={error} />
    </>
  );
}
