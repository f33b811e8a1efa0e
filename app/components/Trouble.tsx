import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { isRouteErrorResponse } from "react-router";
import { CopyDetails } from "./CopyDetails";
import { Notice } from "./Notice";

/** What browsers throw where nothing answers, each in its own words (Fetch standard: a TypeError). */
const isUnreached = (error: unknown) =>
  error instanceof TypeError && /fetch|NetworkError|Load failed/i.test(error.message);

/** What is shown where a page cannot be: what happened, what was kept, what to do. */
export function Trouble({ error }: { error: unknown }) {
  if (isRouteErrorResponse(error) && error.status === 404) {
    return (
      <Notice
        title="There is nothing here"
        action={
          <Button variant="contained" href="/">
            Go to Clear Nod
          </Button>
        }
      >
        The link may be mistyped, or the recording is a draft, or it was deleted. Ask the person who sent it.
      </Notice>
    );
  }
  if (isUnreached(error))
    return (
      <Notice
        title="The server cannot be reached"
        action={
          <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
            <Button variant="contained" href="">
              Try again
            </Button>
            <Button href="/here">Record without a connection</Button>
          </Box>
        }
      >
        Everything that was saved is still there, on the server and on this computer.
      </Notice>
    );
  return (
    <Notice
      title="This page did not open"
      action={
        <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
          <Button variant="contained" href="">
            Try again
          </Button>
          <CopyDetails failed={error} />
        </Box>
      }
    >
      Something went wrong on our side. Everything that was saved is still there.
    </Notice>
  );
}
