import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useFetcher } from "react-router";
import { FormError } from "../components/FormError";
import { Unused } from "../components/Unused";

/** For its sender: nobody uses it, so it is deleted soon, unless they let it stay. */
export function GoesSoon({ id, goesAt }: { id: string; goesAt: string }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const stay = () =>
    void fetcher.submit({ do: "spare", spared: "true" }, { method: "post", action: `/recordings/${id}` });
  return (
    <Alert
      severity="warning"
      sx={{ my: 0.5, alignItems: "center" }}
      action={
        <Button color="inherit" disabled={fetcher.state !== "idle"} onClick={stay}>
          Let it stay
        </Button>
      }
    >
      <Unused goesAt={goesAt} />
      <FormError error={fetcher.data?.error} />
    </Alert>
  );
}
