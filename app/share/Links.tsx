import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher, useNavigate } from "react-router";
import { useCopy } from "../components/useCopy";
import { QrCode } from "./QrCode";
import type { Shared } from "./shared";

/** The link, the short one, a new one; and the page as a stranger would find it. */
export function Links({ shared }: { shared: Shared }) {
  const { id, link, token, as } = shared;
  const copy = useCopy();
  const fetcher = useFetcher<{ error: string | null }>();
  const [sure, setSure] = useState(false);
  const [shows, setShows] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const navigate = useNavigate();
  const to = { method: "post", action: `/recordings/${id}` } as const;
  const busy = fetcher.state !== "idle";
  const shortLink = as.short && new URL(`/s/${as.short}`, link).href;
  const renew = async () => {
    setSure(false);
    // Not by the router: it would look for this page's data at the old link afterwards.
    const body = new URLSearchParams({ do: "new-link" });
    const answer = await fetch(to.action, { method: "POST", body }).catch(() => null);
    const said = (await answer?.json().catch(() => null)) as { error: string | null; token?: string } | null;
    if (said?.token) void navigate(`/w/${said.token}`, { replace: true });
    else setError(said?.error ?? "The server cannot be reached. The link is as it was.");
  };
  return (
    <Box
      component="section"
      aria-label="The link"
      sx={{ mt: 2.5, borderTop: "1px solid", borderColor: "mist", pt: 1.5 }}
    >
      <LinkLine link={link} name="Copy the link" onCopy={() => void copy(link)} />
      {shortLink && (
        <LinkLine
          link={shortLink}
          name="Copy the short link"
          onCopy={() => void copy(shortLink, "Short link copied")}
        />
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1, ml: -1 }}>
        <Button href={`/w/${token}?as=stranger`} target="_blank" rel="noopener">
          Look as a stranger
        </Button>
        {!shortLink && (
          <Button disabled={busy} onClick={() => void fetcher.submit({ do: "shorten" }, to)}>
            Make a short link
          </Button>
        )}
        <Button disabled={busy} onClick={() => setSure(true)}>
          Make a new link
        </Button>
        <Button aria-expanded={shows} onClick={() => setShows(!shows)}>
          QR code
        </Button>
      </Box>
      {shows && <QrCode link={shortLink ?? link} name={as.short ?? token} />}
      {sure && (
        <Alert
          severity="warning"
          sx={{ mt: 1 }}
          action={
            <Box sx={{ display: "flex", gap: 0.5 }}>
              <Button color="inherit" onClick={() => setSure(false)}>
                Keep it
              </Button>
              <Button color="inherit" onClick={() => void renew()}>
                Make it
              </Button>
            </Box>
          }
        >
          The link that you gave away ends now, and says so. Personal links go on.
        </Alert>
      )}
      {(error ?? fetcher.data?.error) && (
        <Alert severity="error" role="alert" sx={{ mt: 1 }}>
          {error ?? fetcher.data?.error}
        </Alert>
      )}
    </Box>
  );
}

function LinkLine({ link, name, onCopy }: { link: string; name: string; onCopy: () => void }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
      <Typography className="clock" variant="body2" sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
        {link}
      </Typography>
      <Button size="small" variant="outlined" onClick={onCopy} aria-label={name}>
        Copy
      </Button>
    </Box>
  );
}
