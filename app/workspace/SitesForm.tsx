import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import { Folded } from "../components/Folded";
import { FormError } from "../components/FormError";
import { TakeOffRow } from "./TakeOffRow";

/** For owners: the sites in whose pages recordings may play. */
export function SitesForm({ sites }: { sites: readonly string[] }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { state, data, formData } = fetcher;
  const [site, setSite] = useState("");
  const busy = state !== "idle";
  const send = (deed: "trust-site" | "drop-site", which: string) => {
    trusts.current = deed === "trust-site";
    void fetcher.submit({ do: deed, site: which }, { method: "post", action: "/workspace" });
  };
  const trusts = useRef(false);
  // Each answer is another one.
  useEffect(() => {
    if (trusts.current && data?.error === null) setSite("");
  }, [data]);
  return (
    <Folded
      title="Sites that may show recordings"
      value={sites.length === 0 ? "none" : sites.length === 1 ? sites[0]! : `${sites.length} sites`}
    >
      <Typography sx={{ maxWidth: 640 }}>
        A course page or a wiki can have a recording in it that plays right there. Only what anyone with the link may
        open plays so, and only in pages of the sites that you name here.
      </Typography>
      {sites.length > 0 && (
        <Box component="ul" aria-label="Sites" sx={{ listStyle: "none", m: 0, p: 0, maxWidth: 640 }}>
          {sites.map((one) => (
            <TakeOffRow
              key={one}
              name={one}
              disabled={busy && formData?.get("site") === one}
              onTakeOff={() => send("drop-site", one)}
            >
              <span className="clock">{one}</span>
            </TakeOffRow>
          ))}
        </Box>
      )}
      <Box
        component="form"
        aria-label="Name a site"
        onSubmit={(e) => {
          e.preventDefault();
          send("trust-site", site);
        }}
        sx={{ display: "flex", gap: 1, alignItems: "flex-start", flexWrap: "wrap" }}
      >
        <TextField
          size="small"
          label="Address of the site"
          value={site}
          onChange={(e) => setSite(e.target.value)}
          helperText="Of one of its pages; or https://*.example.org for all below a name."
          slotProps={{ htmlInput: { maxLength: 2_000, inputMode: "url", autoComplete: "off", spellCheck: false } }}
          sx={{ flex: "1 1 280px", maxWidth: 520 }}
        />
        <Button type="submit" disabled={busy || site.trim() === ""} sx={{ mt: 0.25 }}>
          Trust it
        </Button>
      </Box>
      <FormError error={data?.error} />
    </Folded>
  );
}
