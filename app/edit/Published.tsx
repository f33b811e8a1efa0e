import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Shown } from "#core/recipe/edits";
import type { Deed } from "#core/recipe/history";
import { formatClock } from "#core/time/micros";
import type { KnownRevision } from "#server/editing/revisions";
import { Folded } from "../components/Folded";
import { When } from "../components/When";

interface Props {
  id: string;
  /** what is published now */
  revision: number;
  onDeed: (deed: Deed) => void;
}

/** What was published before, to be worked on and published again. */
export function Published({ id, revision, onDeed }: Props) {
  const [open, setOpen] = useState(false);
  const [known, setKnown] = useState<KnownRevision[] | null>(null);
  const [failed, setFailed] = useState(false);
  useEffect(() => {
    if (!open) return;
    const left = new AbortController();
    void bring<{ revisions: KnownRevision[] }>(`/recordings/${id}/revisions`, left.signal).then((found) => {
      if (left.signal.aborted) return;
      setFailed(found === null);
      if (found) setKnown(found.revisions);
    });
    return () => left.abort();
  }, [open, id, revision]);
  const use = async (number: number) => {
    const found = await bring<{ shown: Shown }>(`/recordings/${id}/revisions/${number}`);
    setFailed(found === null);
    if (found) onDeed({ do: "as-published", revision: number, shown: found.shown });
  };
  return (
    <Folded
      later
      title="Published"
      value={revision === 1 ? "as it was recorded" : `version ${revision}`}
      onOpen={setOpen}
    >
      {failed && (
        <Typography variant="body2" color="error" role="alert">
          This cannot be reached now. Try again.
        </Typography>
      )}
      {known === null && !failed && <Typography variant="body2">Looking.</Typography>}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.5 }}>
        {known?.map(({ number, publishedAt, length }) => (
          <Box component="li" key={number} sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 36 }}>
            <Box component="span" sx={{ mr: "auto" }}>
              Version {number}, <span className="clock">{formatClock(length)}</span>
              <Box component="span" sx={{ display: "block", fontSize: 14, color: "text.secondary" }}>
                <When at={publishedAt} />
                {number === revision && ", what everybody sees"}
              </Box>
            </Box>
            <Button size="small" aria-label={`Edit version ${number} again`} onClick={() => void use(number)}>
              Edit it again
            </Button>
          </Box>
        ))}
      </Box>
    </Folded>
  );
}

async function bring<T>(address: string, signal?: AbortSignal): Promise<T | null> {
  try {
    const answer = await fetch(address, { signal });
    return answer.ok ? ((await answer.json()) as T) : null;
  } catch {
    return null;
  }
}
