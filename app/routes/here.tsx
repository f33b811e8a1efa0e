import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import { useEffect, useMemo } from "react";
import { Notice } from "../components/Notice";
import { useInBrowser } from "../components/When";
import { Desk } from "../record/Desk";
import { theOutbox } from "../record/outbox";
import { HereGroup } from "../record/Outgoing";
import { useReached } from "../record/useReached";
import { useRecorder, useRecorderState } from "../record/useRecorder";
import { deskOf, whoIsHere } from "../record/who";
import type { Route } from "./+types/here";

export const meta: Route.MetaFunction = () => [{ title: "Without a connection · Clear Nod" }];

/**
 * The recorder, and what is on this computer, without the server. It is the same for everybody: it is kept by the
 * browser for when there is no connection, and tells nothing of anybody that is not on this computer already.
 */
export default function Here() {
  const inBrowser = useInBrowser();
  // Looked up once: what is known here does not change while nothing is reached.
  const [who, desk] = useMemo(() => {
    const who = inBrowser ? whoIsHere() : null;
    return [who, who && deskOf(who)] as const;
  }, [inBrowser]);
  const reached = useReached();
  const recorder = useRecorder();
  const state = useRecorderState(recorder);
  useEffect(() => void theOutbox().showFor(who?.id ?? null), [who?.id]);
  if (!recorder || !state) return <Box sx={{ minHeight: 480 }} aria-busy="true" />;
  if (!who || !desk)
    return (
      <Notice title="No connection, and nobody is signed in here">
        Sign in once with a connection. From then on you can record here without one.
      </Notice>
    );
  return (
    <>
      <Box sx={{ maxWidth: 1160, mx: "auto", px: { xs: 1.5, sm: 3 }, pt: 2 }}>
        {reached ? (
          <Alert severity="info" sx={{ mb: 2 }}>
            The connection is there again. What was recorded is being sent. <a href="/library">Go to the library</a>
          </Alert>
        ) : (
          <Alert severity="warning" sx={{ mb: 2 }} aria-busy={reached === null}>
            No connection. You can record all the same: it is kept on this computer, sent by itself when the connection
            is back, and has its link then.
          </Alert>
        )}
        <HereGroup />
      </Box>
      <Desk recorder={recorder} state={state} {...desk} before={null} connected={false} />
    </>
  );
}
