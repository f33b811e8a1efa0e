import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { EMBED_WIDTHS, embedSize, type EmbedWidth } from "#core/embed/size";
import { readClock } from "#core/time/micros";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import { useCopy } from "../components/useCopy";
import { embedCode } from "#core/embed/code";
import type { Shared } from "./shared";

const WIDTH_NAMES: Record<EmbedWidth, string> = {
  small: `Small, ${EMBED_WIDTHS.small} pixels`,
  medium: `Medium, ${EMBED_WIDTHS.medium} pixels`,
  large: `Large, ${EMBED_WIDTHS.large} pixels`,
};

/** The piece of HTML by which a recording plays in another page. */
export function EmbedCode({ shared }: { shared: Shared }) {
  const { audience, sites } = shared.as;
  return (
    <Folded title="Put it into a page" value={sites.length === 0 ? "no site may yet" : sitesOf(sites)} later>
      {audience !== "anyone" ? (
        <Typography>
          Only what anyone with the link can open plays in other pages: nobody is signed in there. Choose that above
          first.
        </Typography>
      ) : sites.length === 0 ? (
        <Typography>
          An owner of {shared.workspace} names the sites that may show recordings, on the{" "}
          <a href="/workspace">page of the workspace</a>. There are none yet, so no page could show it.
        </Typography>
      ) : (
        <Code shared={shared} />
      )}
    </Folded>
  );
}

const sitesOf = (sites: readonly string[]) =>
  sites.length === 1 ? `of ${sites[0]!.replace(/^https?:\/\//, "")}` : `of ${sites.length} sites`;

function Code({ shared: { link, title, frame, hasCaptions } }: { shared: Shared }) {
  const copy = useCopy();
  const [width, setWidth] = useState<EmbedWidth>("medium");
  const [begins, setBegins] = useState("");
  const [stops, setStops] = useState("");
  const [captions, setCaptions] = useState(false);
  const [comments, setComments] = useState(false);
  const at = begins.trim() === "" ? 0 : readClock(begins);
  const until = stops.trim() === "" ? null : readClock(stops);
  const wrong = at === null || (stops.trim() !== "" && (until === null || until <= at));
  const from = wrong || (at === 0 && until === null) ? null : { at, until };
  const size = embedSize(frame, EMBED_WIDTHS[width]);
  const code = embedCode({ link, title, size, from, captions, comments });
  const moment = (label: string, value: string, change: (next: string) => void) => (
    <TextField
      size="small"
      label={label}
      value={value}
      onChange={(e) => change(e.target.value)}
      error={wrong}
      placeholder="1:05"
      slotProps={{ htmlInput: { maxLength: 12, inputMode: "text" } }}
      sx={{ width: 120 }}
    />
  );
  return (
    <>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <SelectField label="How wide" value={width} names={WIDTH_NAMES} onChoose={setWidth} minWidth={180} />
        {moment("Begins at", begins, setBegins)}
        {moment("Stops at", stops, setStops)}
      </Box>
      {wrong && (
        <Typography role="alert" variant="body2" color="error">
          Moments are like 1:05 or 65, and it stops after it begins.
        </Typography>
      )}
      <Box>
        {hasCaptions && (
          <FormControlLabel
            control={<Switch size="small" checked={captions} onChange={(e) => setCaptions(e.target.checked)} />}
            label="Captions are shown"
          />
        )}
        <FormControlLabel
          control={<Switch size="small" checked={comments} onChange={(e) => setComments(e.target.checked)} />}
          label="Comments can be read and written"
        />
      </Box>
      <TextField
        label="HTML for the page"
        value={code}
        multiline
        minRows={3}
        maxRows={6}
        slotProps={{ htmlInput: { readOnly: true, spellCheck: false, className: "clock" } }}
      />
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Button variant="outlined" disabled={wrong} onClick={() => void copy(code, "HTML copied")}>
          Copy the HTML
        </Button>
        <Typography variant="body2" color="text.secondary" sx={{ flex: "1 1 240px" }}>
          {size.width} by {size.height} pixels; on a narrow page it shrinks. Change the two numbers as you like: the
          player takes what it gets.
        </Typography>
      </Box>
    </>
  );
}
