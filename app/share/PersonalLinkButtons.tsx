import Button from "@mui/material/Button";
import { useCopy } from "../components/useCopy";
import { personalLink } from "./personal-link";

/** Somebody's personal link: copied, or closed for another one. @param beside any address of ours */
export function PersonalLinkButtons({
  name,
  linkKey,
  beside,
  busy,
  onClose,
}: {
  name: string;
  linkKey: string;
  beside: string;
  busy: boolean;
  onClose: () => void;
}) {
  const copy = useCopy();
  return (
    <>
      <Button
        size="small"
        aria-label={`Copy the personal link of ${name}`}
        onClick={() => void copy(personalLink(beside, linkKey), `Personal link of ${name} copied`)}
      >
        Copy link
      </Button>
      <Button
        size="small"
        disabled={busy}
        aria-label={`Close the personal link of ${name}, and make another one`}
        title="For a link that was passed on: it is closed, and another one is made"
        onClick={onClose}
      >
        Close link
      </Button>
    </>
  );
}
