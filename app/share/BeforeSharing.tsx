import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState, type FormEvent } from "react";
import { useFetcher } from "react-router";
import { formatClock } from "#core/time/micros";
import type { Glance, Sight } from "#server/sharing/glance";
import type { Consent } from "#server/sharing/sharing";
import { Folded } from "../components/Folded";
import { useAskAgain } from "../components/useAskAgain";
import type { loader } from "../routes/glance";
import { FacesLook } from "./FacesLook";
import type { Shared } from "./shared";
import { FormError } from "../components/FormError";

const AGAIN_MS = 2_000;
const WIDE = 120;

/** What people forget before others see it: what else stood on the screen, and who else is seen or heard. */
export function BeforeSharing({ shared: { id, link, as } }: { shared: Shared }) {
  return (
    <Folded title="Before others see it" value={noted(as.consent)} later>
      <Looked id={id} link={link} />
      <ConsentNote id={id} consent={as.consent} />
    </Folded>
  );
}

function noted({ who, agreedAt }: Consent): string {
  if (who === "") return "nobody else is noted";
  return agreedAt ? `${who}: they agree` : `${who}: not agreed yet`;
}

function Looked({ id, link }: { id: string; link: string }) {
  const glance = useFetcher<typeof loader>();
  const { load, data } = glance;
  const path = `/recordings/${id}/glance`;
  useEffect(() => void load(path), [load, path]);
  useAskAgain(glance, path, !(data?.whole ?? false), AGAIN_MS);
  if (!data) return <Typography role="status">Looking through it</Typography>;
  const { sights, cameras } = data;
  return (
    <>
      <Typography>{sentence(data)}</Typography>
      {sights.length > 0 && (
        <Box
          component="ul"
          aria-label="What stands on the screen"
          sx={{ listStyle: "none", m: 0, p: 0, display: "flex", flexWrap: "wrap", gap: 1 }}
        >
          {sights.map((sight, n) => (
            <li key={n}>
              <Seen id={id} link={link} sight={sight} />
            </li>
          ))}
        </Box>
      )}
      {data.whole && <FacesLook wishes={data.faces} link={link} />}
      {cameras > 1 && <Typography>{cameras} cameras are shown: look who walks through the picture.</Typography>}
    </>
  );
}

function sentence({ sights, more, whole }: Glance): string {
  if (!whole) return "It is still being looked through.";
  if (sights.length === 0) return "It has no screen in which something could stand by mistake. Listen to what is said.";
  const times =
    sights.length === 1 ? "The screen stays the same" : `The screen changes ${counted(sights.length - 1 + more)}`;
  return `${times}. Look whether a name, a message or another window stands there that is for nobody else; cut it out where it does.`;
}

const counted = (times: number) => (times === 1 ? "once" : `${times} times`);

/** A small picture from its strip, which leads to its moment. */
function Seen({ id, link, sight: { at, picture } }: { id: string; link: string; sight: Sight }) {
  const clock = formatClock(at);
  return (
    <Box
      component="a"
      href={`${link}#t=${at / 1_000_000}`}
      aria-label={`What stands there at ${clock}`}
      sx={{ display: "block", color: "text.primary", fontSize: 13, textDecoration: "none" }}
    >
      {picture && <Box aria-hidden sx={{ border: "1px solid", borderColor: "mist" }} style={cutFrom(id, picture)} />}
      <span className="clock">{clock}</span>
    </Box>
  );
}

function cutFrom(id: string, { position, n, strip }: NonNullable<Sight["picture"]>) {
  const scale = WIDE / strip.width;
  const high = strip.height * scale;
  return {
    width: WIDE,
    height: high,
    backgroundImage: `url(/recordings/${id}/looks/${position}/strip)`,
    backgroundSize: `${strip.columns * WIDE}px auto`,
    backgroundPosition: `-${(n % strip.columns) * WIDE}px -${Math.floor(n / strip.columns) * high}px`,
  };
}

/** Who else is seen or heard, and whether they agree. It is kept with the recording. */
function ConsentNote({ id, consent }: { id: string; consent: Consent }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [who, setWho] = useState(consent.who);
  const [agreed, setAgreed] = useState(consent.agreedAt !== null);
  const { state, data } = fetcher;
  const keep = (event: FormEvent) => {
    event.preventDefault();
    const fields = { do: "consent", others: who, agreed: String(agreed && who.trim() !== "") };
    void fetcher.submit(fields, { method: "post", action: `/recordings/${id}` });
  };
  return (
    <Box
      component="form"
      aria-label="Who else is seen or heard"
      onSubmit={keep}
      sx={{ display: "grid", gap: 1, justifyItems: "start" }}
    >
      <TextField
        size="small"
        fullWidth
        label="Who else is seen or heard"
        value={who}
        onChange={(e) => setWho(e.target.value)}
        helperText="Kept with the recording, for you and whoever gets it after you, and in its file. Pages do not show it."
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <FormControlLabel
        control={
          <Checkbox
            checked={agreed && who.trim() !== ""}
            disabled={who.trim() === ""}
            onChange={(e) => setAgreed(e.target.checked)}
          />
        }
        label="They agree that others see it"
      />
      <Button type="submit" variant="outlined" disabled={state !== "idle"}>
        Note it
      </Button>
      <FormError error={data?.error} />
      {state === "idle" && data?.error === null && <Typography role="status">Noted.</Typography>}
    </Box>
  );
}
