import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { beTold, beToldNothing, canBeTold, isTold, NoPush } from "./push";
import { FormError } from "../components/FormError";

/** What the server knows of this browser. */
export interface PushHere {
  /** by which the server signs */
  key: string;
  /** this browser is told */
  here: boolean;
}

const INSTEAD_OF_MAIL =
  "What comes at once can be shown by this browser instead of mailed. What it has not shown within ten minutes, because it was closed, is mailed.";
const ALONE =
  "What comes at once can be shown by this browser. What it has not shown within ten minutes, because it was closed, waits in Answers alone.";

/** Whether this browser tells its person what is new, at once and by itself. */
export function TellHere({ push: { key, here }, mails }: { push: PushHere; mails: boolean }) {
  const fetcher = useFetcher<{ error: string | null }>();
  /** null until the browser was asked */
  const [browser, setBrowser] = useState<"cannot" | "told" | "not told" | null>(null);
  const [asking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!canBeTold()) return setBrowser("cannot");
    void isTold().then((told) => setBrowser(told ? "told" : "not told"));
  }, []);
  const change = async (wanted: boolean) => {
    setAsking(true);
    setProblem(null);
    try {
      const subscription = wanted ? JSON.stringify(await beTold(key)) : "";
      // First here: what the browser cannot give up is not sent to it any more.
      await fetcher.submit({ do: wanted ? "push" : "no-push", subscription }, { method: "post" });
      if (!wanted) await beToldNothing();
      setBrowser(wanted ? "told" : "not told");
    } catch (refused) {
      if (!(refused instanceof NoPush)) throw refused;
      setProblem(refused.message);
    } finally {
      setAsking(false);
    }
  };
  const isOn = here && browser === "told";
  const busy = asking || fetcher.state !== "idle";
  const error = problem ?? fetcher.data?.error ?? null;
  return (
    <Box
      component="section"
      aria-label="In this browser"
      sx={{ display: "grid", gap: 1, justifyItems: "start", mt: 1 }}
    >
      <Typography component="h2" variant="h3">
        In this browser
      </Typography>
      <Typography>{mails ? INSTEAD_OF_MAIL : ALONE}</Typography>
      {browser === "cannot" ? (
        <Typography color="text.secondary">This browser shows nothing by itself.</Typography>
      ) : (
        <Button variant="outlined" disabled={busy || browser === null} onClick={() => void change(!isOn)}>
          {busy ? "One moment" : isOn ? "No more in this browser" : "Tell me in this browser"}
        </Button>
      )}
      <FormError error={error} />
      {isOn && !busy && <Typography role="status">This browser tells you, until you sign out here.</Typography>}
    </Box>
  );
}
