import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useRef, type ReactNode } from "react";
import { useCopy } from "./useCopy";

/** Once something with a secret was made, its form is empty: another press would make another. */
export function useOnceMade(secret: string | undefined, empty: () => void) {
  const work = useRef(empty);
  work.current = empty;
  useEffect(() => {
    if (secret !== undefined) work.current();
  }, [secret]);
}

interface Props {
  secret: string;
  /** what is said when it was copied */
  copied?: string;
  /** what it is for */
  children: ReactNode;
}

/** A secret that was just made, and is never shown again. */
export function SecretOnce({ secret, copied = "Secret copied", children }: Props) {
  const copy = useCopy();
  return (
    <Alert
      severity="success"
      role="status"
      action={
        <Button color="inherit" onClick={() => void copy(secret, copied)}>
          Copy
        </Button>
      }
    >
      {children} It is shown this once:
      <Box component="code" className="clock" sx={{ display: "block", overflowWrap: "anywhere", mt: 0.5 }}>
        {secret}
      </Box>
    </Alert>
  );
}
