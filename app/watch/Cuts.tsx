import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { formatClock, spokenLength } from "#core/time/micros";
import type { Publication } from "#server/editing/editing";
import type { Proposal } from "#server/editing/proposals";
import { kept } from "../kept";
import { playAround } from "../player/around";
import type { Player } from "../player/player";
import { LeftOut } from "./LeftOut";
import { useCuts } from "./useCuts";

interface Props {
  id: string;
  /** the revision that the page shows */
  revision: number;
  player: Player | null;
}

const REASONS = {
  mistake: "You said that something went wrong here.",
  "backed-up": "You went back over this while recording.",
};

/** Proposals that this browser's person has refused, of one recording. */
const keptName = (id: string) => `clear-nod-refused:${id}`;
const nameOf = ({ from, to }: Proposal) => `${from}-${to}`;

function publishingWords({ byItself, done, wanted }: Publication): string {
  if (byItself)
    return "What your scenes hide is being cut off: until then, up to two seconds beside it can still be seen";
  return wanted > 0 && done < wanted ? `Joining what stays: ${done} of ${wanted} joins made` : "Joining what stays";
}

/** For the presenter alone: what could be left out, one after the other; what is; and how far a change has come. */
export function Cuts({ id, revision, player }: Props) {
  const { out, proposals, publishing, busy, error, change } = useCuts(id, revision);
  const [refused, setRefused] = useState<string[]>([]);
  useEffect(() => {
    const before = kept.read(keptName(id));
    if (Array.isArray(before)) setRefused(before.filter((name) => typeof name === "string"));
  }, [id]);
  const open = proposals.filter((proposal) => !refused.includes(nameOf(proposal)));
  const refuse = (proposal: Proposal) => {
    const names = [...refused, nameOf(proposal)];
    setRefused(names);
    kept.write(keptName(id), names);
  };
  const [next] = open;
  return (
    <>
      {out.length > 0 && <LeftOut out={out} busy={busy} onChange={change} />}
      {publishing && (
        <Typography variant="body2" role="status" sx={{ fontWeight: 600 }}>
          {publishingWords(publishing)}
        </Typography>
      )}
      {error && (
        <Typography variant="body2" role="alert" color="error">
          {error}
        </Typography>
      )}
      {next && !publishing && (
        <Next
          key={nameOf(next)}
          proposal={next}
          count={open.length}
          player={player}
          busy={busy}
          onTake={() => change({ do: "leave-out", from: next.from, to: next.to })}
          onRefuse={() => refuse(next)}
        />
      )}
    </>
  );
}

interface NextProps {
  proposal: Proposal;
  /** with this one */
  count: number;
  player: Player | null;
  busy: boolean;
  onTake: () => void;
  onRefuse: () => void;
}

function Next({ proposal: { why, at, until }, count, player, busy, onTake, onRefuse }: NextProps) {
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const listen = () => {
    stop.current?.();
    if (player) stop.current = playAround(player, { from: at, to: until });
  };
  return (
    <Box
      role="group"
      aria-label="What could be left out"
      sx={{
        flexBasis: "100%",
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        columnGap: 1,
        rowGap: 0.5,
        mt: 0.5,
        py: 0.5,
        borderTop: "1px solid",
        borderBottom: "1px solid",
        borderColor: "mist",
        "& button": { minHeight: 32 },
      }}
    >
      <Typography variant="body2" sx={{ mr: "auto" }}>
        {REASONS[why]}{" "}
        <span
          className="clock"
          aria-label={`From ${spokenLength(at)} to ${spokenLength(until)}, ${spokenLength(until - at)} long`}
        >
          {formatClock(at)} to {formatClock(until)}
        </span>
        {count > 1 && `, and ${count - 1} more`}
      </Typography>
      <Button size="small" disabled={!player} onClick={listen}>
        Play it without
      </Button>
      <Button size="small" variant="outlined" disabled={busy} onClick={onTake}>
        Leave it out
      </Button>
      <Button size="small" onClick={onRefuse}>
        Keep it in
      </Button>
    </Box>
  );
}
