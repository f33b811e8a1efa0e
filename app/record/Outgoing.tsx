import Box from "@mui/material/Box";
import Button, { type ButtonProps } from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState, type ReactNode } from "react";
import { Link, useLocation } from "react-router";
import type { Resting } from "#capture/outbox/outbox";
import type { Hold } from "#capture/outbox/answer";
import type { SendState } from "#capture/outbox/sender";
import type { KeptTake } from "#capture/outbox/store";
import { CopyDetails } from "../components/CopyDetails";
import { When } from "../components/When";
import { saidBytes } from "../components/saidBytes";
import { theOutbox, useOutbox } from "./outbox";

/** Not for every page that says what is still here. */
const PlayHere = lazy(() => import("./PlayHere").then(({ PlayHere }) => ({ default: PlayHere })));

const HOLDS: Record<Hold, string> = {
  offline: "No connection. Kept on this computer, will send",
  server: "The server does not take it at the moment. Kept on this computer, will send",
  "signed-out": "You are signed out. Kept on this computer; sign in here to send",
  "other-person": "Somebody else recorded it. Kept on this computer, will send when they are signed in",
  refused: "The server refuses it. Kept on this computer",
  storage: "This browser's own storage does not answer. Trying again",
};

export function sendWords({ bytes, parts, hold, message }: SendState): string {
  const amount =
    parts > 0 ? `${saidBytes(bytes)} in ${parts} part${parts === 1 ? "" : "s"}` : "the end of the recording";
  return hold
    ? `${HOLDS[hold]}: ${amount}.${message && hold === "refused" ? ` ${message}` : ""}`
    : `Sending: ${amount} to go.`;
}

/** What is told of this computer's takes in a place of its own on these pages. */
const TOLD_THERE = ["/library", "/here"];

/** On every page: what this computer still has to send, and what an earlier visit left behind. */
export function Outgoing() {
  const { pathname } = useLocation();
  const { sending, unfinished } = useOutbox();
  if (TOLD_THERE.includes(pathname)) return null;
  const held = heldOf(sending);
  if (held.length === 0 && unfinished.length === 0) return null;
  return (
    <Box
      role="region"
      aria-label="On this computer"
      sx={{ borderBottom: "1px solid", borderColor: "mist", bgcolor: "background.paper" }}
    >
      {held.map(({ take, state }) => (
        <OnItsWay key={take.takeId} take={take} state={state} />
      ))}
      {unfinished.map((left) => (
        <Left key={left.take.takeId} left={left} />
      ))}
    </Box>
  );
}

type Sending = { take: KeptTake; state: SendState };
/** What is being recorded and goes well is told by the recorder. */
const heldOf = (sending: Sending[]) => sending.filter((s) => s.state.hold !== null || s.take.expected !== null);

/** In the library: every take that is on this computer, sent or not. */
export function HereGroup() {
  const { sending, unfinished, stayed, others } = useOutbox();
  const held = heldOf(sending);
  const count = held.length + unfinished.length + stayed.length;
  if (count === 0 && others === 0) return null;
  return (
    <Box component="section" aria-label="On this computer" sx={{ mb: { xs: 1.5, md: 4 } }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, px: { xs: 1.5, sm: 0 }, py: 1 }}>
        <Typography variant="h2">On this computer</Typography>
        <Typography className="clock" color="text.secondary">
          {count}
        </Typography>
      </Box>
      <Box sx={{ border: "1px solid", borderColor: "mist", bgcolor: "background.paper" }}>
        {held.map(({ take, state }) => (
          <OnItsWay key={take.takeId} take={take} state={state} />
        ))}
        {unfinished.map((left) => (
          <Left key={left.take.takeId} left={left} />
        ))}
        {stayed.map((here) => (
          <Stayed key={here.take.takeId} here={here} />
        ))}
        {others > 0 && (
          <Line>
            <span>
              {others === 1 ? "A recording of somebody else waits" : `${others} recordings of other people wait`} here
              until they sign in.
            </span>
          </Line>
        )}
      </Box>
    </Box>
  );
}

function OnItsWay({ take, state }: Sending) {
  return (
    <Line warn={state.hold !== null}>
      <span role="status">
        “{take.title}”. {sendWords(state)}
        {take.endsBefore &&
          ` The server does not take all of it: ${lostTracks(take)} early. What it does not take stays here.`}
      </span>
      {state.hold && (
        <Button size="small" onClick={() => theOutbox().retry()}>
          Try now
        </Button>
      )}
      {(state.hold === "refused" || state.hold === "storage" || take.endsBefore) && <CopyDetails />}
      {take.expected && <Play take={take} />}
      {(state.hold === "refused" || (take.expected && state.hold)) && <ThrowAway take={take} />}
    </Line>
  );
}

/** Which tracks end before the others. */
const lostTracks = ({ endsBefore = {} }: KeptTake): string => {
  const names = Object.keys(endsBefore);
  return `${names.join(" and ")} ${names.length > 1 ? "end" : "ends"}`;
};

function Left({ left: { take, parts, bytes } }: { left: Resting }) {
  return (
    <Line warn>
      <span>
        {take.expected ? "A recording" : "An unfinished recording"}, “{take.title}”, started{" "}
        <When at={new Date(take.startedAt).toISOString()} />, is kept on this computer:{" "}
        {parts > 0
          ? `${saidBytes(bytes)} in ${parts} part${parts === 1 ? "" : "s"} not sent yet`
          : "all its parts were sent, its end was not"}
        .
      </span>
      <Button size="small" variant="contained" onClick={() => void theOutbox().sendRest(take.takeId)}>
        Send what is there
      </Button>
      <Play take={take} />
      <ThrowAway take={take} />
    </Line>
  );
}

function Stayed({ here: { take, bytes } }: { here: Resting }) {
  return (
    <Line>
      <span>
        {take.registered ? <Link to={`/w/${take.registered.token}`}>{take.title}</Link> : take.title}, started{" "}
        <When at={new Date(take.startedAt).toISOString()} />,{" "}
        {take.endsBefore ? "was sent as far as the server took it; the rest is here" : "was sent and is here as well"}:{" "}
        {saidBytes(bytes)}.
      </span>
      <Play take={take} />
      <Button size="small" onClick={() => void theOutbox().letGo(take.takeId)}>
        Remove it from here
      </Button>
    </Line>
  );
}

/** Plays it in a window of its own, which is loaded when it is wanted. */
export function PlayButton({ take, ...look }: ButtonProps & { take: KeptTake }) {
  const [plays, setPlays] = useState(false);
  return (
    <>
      <Button {...look} onClick={() => setPlays(true)} />
      {plays && (
        <Suspense>
          <PlayHere take={take} onClose={() => setPlays(false)} />
        </Suspense>
      )}
    </>
  );
}

const Play = ({ take }: { take: KeptTake }) => (
  <PlayButton take={take} size="small" aria-label={`Play “${take.title}” from here`}>
    Play
  </PlayButton>
);

/** Asks once, in place. */
function ThrowAway({ take }: { take: KeptTake }) {
  const [sure, setSure] = useState(false);
  if (!sure)
    return (
      <Button size="small" color="clay" onClick={() => setSure(true)}>
        Throw it away
      </Button>
    );
  return (
    <Button
      size="small"
      color="clay"
      variant="contained"
      autoFocus
      onBlur={() => setSure(false)}
      onClick={() => void theOutbox().throwAway(take)}
    >
      Really throw it away
    </Button>
  );
}

function Line({ warn = false, children }: { warn?: boolean; children: ReactNode }) {
  return (
    <Box
      sx={{
        px: { xs: 1.5, sm: 3 },
        py: 1,
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        flexWrap: "wrap",
        // What is said, and beside it what can be done.
        "& > span": { flex: "1 1 340px" },
        borderLeft: "6px solid",
        borderColor: warn ? "clay.main" : "primary.main",
      }}
    >
      {children}
    </Box>
  );
}
