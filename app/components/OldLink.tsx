import Button from "@mui/material/Button";
import { isRouteErrorResponse } from "react-router";
import { Notice } from "./Notice";
import { Trouble } from "./Trouble";

/** A link out of a letter that does nothing any more. @param again where another one can be asked for */
export function OldLink({ error, again }: { error: unknown; again: string }) {
  if (!isRouteErrorResponse(error) || error.status !== 404) return <Trouble error={error} />;
  return (
    <Notice
      title="This link does nothing any more"
      action={
        <Button variant="contained" href={again}>
          Ask for another one
        </Button>
      }
    >
      It was used already, or it is too old. Nothing was changed.
    </Notice>
  );
}
