import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { SeenBy } from "#core/places/kinds";
import type { SendingRow } from "#server/places/sendings";
import { Folded } from "../components/Folded";
import { FormError } from "../components/FormError";
import { saidBytes } from "../components/saidBytes";
import { SelectField } from "../components/SelectField";
import { useAskAgain } from "../components/useAskAgain";
import type { action, loader } from "../routes/sendings";
import { filmOf } from "./AsFile";
import type { Shared } from "./shared";

const AGAIN_MS = 1_000;
const SEEN: Record<SeenBy, string> = {
  people: "people of that channel alone",
  link: "whoever has its link there",
  everybody: "everybody",
};
const UNDER_WAY: readonly (SendingRow["state"] | null)[] = ["waiting", "sending", "processing", "removing"];

/** The outside places of a recording: where it is, where it could be, and what is on its way. */
export function SendOut({ shared: { id, workspace } }: { shared: Shared }) {
  const asked = useFetcher<typeof loader>();
  const { load, data } = asked;
  const fetcher = useFetcher<typeof action>();
  const path = `/recordings/${id}/sendings`;
  const settled = fetcher.state === "idle";
  useEffect(() => {
    if (settled) void load(path);
  }, [load, path, settled]);
  const moves = data?.rows.some(({ state }) => UNDER_WAY.includes(state)) ?? false;
  useAskAgain(asked, path, moves, AGAIN_MS);
  // Sent, it is made as a file as well.
  const film = filmOf(id);
  const { load: lookAtFilm } = useFetcher({ key: film });
  const waiting = data?.rows.filter(({ state }) => state === "waiting").length;
  useEffect(() => {
    if (waiting !== undefined) void lookAtFilm(film);
  }, [waiting, lookAtFilm, film]);
  const wish = (deed: Record<string, string>) => void fetcher.submit(deed, { method: "post", action: path });
  return (
    <Folded title="Outside places" value={data ? told(data.rows) : "…"} later>
      {data?.rows.length === 0 && (
        <Typography>
          An owner of {workspace} names the places, on the <a href="/workspace">page of the workspace</a>. There are
          none yet.
        </Typography>
      )}
      {data && data.rows.length > 0 && (
        <>
          <Typography>
            Its file is put there, for whoever can open that place. Who may open the link here has no say in it.
          </Typography>
          <Box component="ul" aria-label="Outside places" sx={{ listStyle: "none", m: 0, p: 0 }}>
            {data.rows.map((row) => (
              <PlaceRow key={row.placeId ?? row.id} row={row} current={data.revision} busy={!settled} onWish={wish} />
            ))}
          </Box>
        </>
      )}
      <FormError error={fetcher.data?.error} />
    </Folded>
  );
}

function told(rows: readonly SendingRow[]): string {
  const there = rows.filter(({ state }) => state === "there");
  const way = rows.filter(({ state }) => UNDER_WAY.includes(state));
  if (way.length > 0) return `on its way to ${way.map(({ name }) => name).join(", ")}`;
  return there.length > 0 ? `sent to ${there.map(({ name }) => name).join(", ")}` : "sent to none";
}

interface RowProps {
  row: SendingRow;
  /** the number of the published revision */
  current: number;
  busy: boolean;
  onWish: (deed: Record<string, string>) => void;
}

function PlaceRow({ row, current, busy, onWish }: RowProps) {
  const { placeId, kind, id, name, state, link, problem, done, size, revision } = row;
  const moves = UNDER_WAY.includes(state);
  const [wished, setWished] = useState<SeenBy | null>(null);
  const seenBy = wished ?? row.seenBy ?? "people";
  const send = { do: "send", place: placeId!, ...(kind === "channel" && { seenBy }) };
  const choose = (chosen: SeenBy) => {
    setWished(chosen);
    if (id && (link || state !== "failed")) onWish({ do: "seen-by", sending: id, seenBy: chosen });
  };
  const button = (words: string, deed: Record<string, string>) => (
    <Button size="small" disabled={busy} aria-label={`${words}: ${name}`} onClick={() => onWish(deed)}>
      {words}
    </Button>
  );
  return (
    <Box component="li" sx={{ borderTop: "1px solid", borderColor: "mist", py: 1 }}>
      <Box sx={{ display: "flex", columnGap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <Box sx={{ flex: "1 1 200px", minWidth: 0, overflowWrap: "anywhere" }}>
          <Box component="span" sx={{ fontWeight: 600 }}>
            {link ? (
              <Link href={link} target="_blank" rel="noopener noreferrer" color="inherit">
                {name}
              </Link>
            ) : (
              name
            )}
          </Box>{" "}
          <Box component="span" role="status" sx={{ color: "text.secondary" }}>
            {words(row, current)}
          </Box>
        </Box>
        {placeId && !moves && state !== "there" && button(state ? "Try again" : "Send", send)}
        {placeId && state === "there" && revision !== current && button("Send again", send)}
        {id &&
          placeId &&
          state !== "removing" &&
          button(state === "waiting" || state === "sending" ? "Give it up" : "Take it away", {
            do: "take-away",
            sending: id,
          })}
      </Box>
      {placeId && kind === "channel" && state !== "removing" && (
        <Box sx={{ pt: 1, pb: 0.5 }}>
          <SelectField
            label={`Seen at ${name} by`}
            value={seenBy}
            names={SEEN}
            onChoose={choose}
            disabled={busy}
            minWidth={260}
          />
        </Box>
      )}
      {state === "sending" && size! > 0 && (
        <LinearProgress variant="determinate" value={(100 * done!) / size!} aria-label={`On its way to ${name}`} />
      )}
      {problem && (
        <Typography role="alert" color="error" variant="body2">
          {problem}
        </Typography>
      )}
    </Box>
  );
}

function words({ state, link, done, size, revision }: SendingRow, current: number): string {
  switch (state) {
    case null:
      return "not sent there";
    case "waiting":
      return "its file is made first";
    case "sending":
      return `${saidBytes(done!)} of ${saidBytes(size!)} are there`;
    case "processing":
      return "is being worked on there";
    case "removing":
      return "is being taken away";
    case "failed":
      return link ? "it is there as it was; what was sent last is not" : "it did not get there";
    case "there":
      return revision === current ? "it is there" : "it is there, as it was before the last edit";
  }
}
