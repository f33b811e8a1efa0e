import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useRevalidator } from "react-router";
import type { Unfinished } from "#capture/outbox/outbox";
import type { Hold, SendState } from "#capture/outbox/sender";
import type { KeptTake } from "#capture/outbox/store";
import { When } from "../components/When";
import { theOutbox, useOutbox } from "./outbox";
import { saidBytes } from "../components/saidBytes";

const HOLDS: Record<Hold, string> = {
  offline: "No connection. Kept on this computer, will send",
  server: "The server does not take it at the moment. Kept on this computer, will send",
  "signed-out": "You are signed out. Kept on this computer; sign in here to send",
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

/** On every page: what this computer still has to send, and what an earlier visit left behind. */
export function Outgoing() {
  const { sending, unfinished } = useOutbox();
  const held = sending.filter((s) => s.state.hold !== null || s.take.expected !== null);
  if (held.length === 0 && unfinished.length === 0) return null;
  return (
    <Box
      role="region"
      aria-label="On this computer"
      sx={{ borderBottom: "1px solid", borderColor: "mist", bgcolor: "background.paper" }}
    >
      {held.map(({ take, state }) => (
        <Line key={take.takeId} warn={state.hold !== null}>
          <span role="status">
            “{take.title}”. {sendWords(state)}
          </span>
          {state.hold && (
            <Button size="small" onClick={() => theOutbox().retry()}>
              Try now
            </Button>
          )}
          {state.hold === "refused" && <ThrowAway take={take} />}
        </Line>
      ))}
      {unfinished.map((left) => (
        <Left key={left.take.takeId} left={left} />
      ))}
    </Box>
  );
}

function Left({ left: { take, parts, bytes } }: { left: Unfinished }) {
  const { revalidate } = useRevalidator();
  return (
    <Line warn>
      <span>
        An unfinished recording, “{take.title}”, started <When at={new Date(take.startedAt).toISOString()} />, is kept
        on this computer:{" "}
        {parts > 0
          ? `${saidBytes(bytes)} in ${parts} part${parts === 1 ? "" : "s"} not sent yet`
          : "all its parts were sent, its end was not"}
        .
      </span>
      <Button
        size="small"
        variant="contained"
        onClick={() =>
          void theOutbox()
            .sendRest(take.takeId)
            .then(() => revalidate())
        }
      >
        Send what is there
      </Button>
      <ThrowAway take={take} />
    </Line>
  );
}

/** Asks once, in place. */
function ThrowAway({ take }: { take: KeptTake }) {
  const [sure, setSure] = useState(false);
  const { revalidate } = useRevalidator();
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
      onClick={() =>
        void theOutbox()
          .throwAway(take)
          .then(() => revalidate())
      }
    >
      Really throw it away
    </Button>
  );
}

function Line({ warn, children }: { warn: boolean; children: React.ReactNode }) {
  return (
    <Box
      sx={{
        px: { xs: 1.5, sm: 3 },
        py: 1,
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        flexWrap: "wrap",
        borderLeft: "6px solid",
        borderColor: warn ? "clay.main" : "primary.main",
      }}
    >
      {children}
    </Box>
  );
}
