import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { isRouteErrorResponse } from "react-router";
import { Notice } from "../components/Notice";
import { useSaidMoment } from "../components/When";
import type { ClosedDoor } from "../services/door.server";
import { PasswordForm } from "../watch/Door";

/** An embed that does not play for whoever looks at it: why, and where else it may. */
export function EmbedDoor({ error, token }: { error: unknown; token: string }) {
  const say = useSaidMoment();
  const closed = isRouteErrorResponse(error) ? (error.data as Partial<ClosedDoor> | null) : null;
  const when = closed?.at ? say(closed.at) : "";
  const elsewhere = (
    <Button variant="outlined" href={`/w/${token}`} target="_blank" rel="noopener">
      Open it in a window of its own
    </Button>
  );
  switch (closed?.door) {
    case "password":
      return <Locked token={token} elsewhere={elsewhere} />;
    case "not-yet":
      return <Notice title="It is not open yet">It opens {when}.</Notice>;
    case "over":
      return <Notice title="It is not open any more">It was open until {when}.</Notice>;
    case "replaced":
      return <Notice title="This link was replaced">Ask whoever made this page for the new one.</Notice>;
    case "nothing":
      return (
        <Notice title="Nothing here plays for everybody" action={elsewhere}>
          It may be for people who are named or signed in, a draft, or deleted.
        </Notice>
      );
    default:
      return (
        <Notice title="This did not work" action={<Button onClick={() => location.reload()}>Try again</Button>}>
          Something went wrong on the server. Nothing is lost.
        </Notice>
      );
  }
}

/** A browser that keeps nothing for embeds asks again for what was right: then it is said where it goes on. */
function Locked({ token, elsewhere }: { token: string; elsewhere: ReactNode }) {
  const [kept, setKept] = useState(true);
  useEffect(() => setKept(!entered.take()), []);
  if (!kept)
    return (
      <Notice title="A password is asked for" action={elsewhere}>
        It was right; but this browser does not keep it here, within another page.
      </Notice>
    );
  const onEntered = () => {
    entered.put();
    location.reload();
  };
  return (
    <Notice title="A password is asked for" action={<PasswordForm token={token} onEntered={onEntered} />}>
      Whoever made this page knows it.
    </Notice>
  );
}

const NAME = "clear-nod-entered";

/** That the right password was given just now, for the page that is loaded next. */
const entered = {
  put() {
    try {
      sessionStorage.setItem(NAME, "1");
    } catch {
      // Then nobody is told why it is asked for again.
    }
  },
  take(): boolean {
    try {
      const was = sessionStorage.getItem(NAME) !== null;
      sessionStorage.removeItem(NAME);
      return was;
    } catch {
      return false;
    }
  },
};
