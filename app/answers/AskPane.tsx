import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { isCurrent, sayAnswer, type Answer, type Ask, type Given } from "#core/answers/kinds";
import { formatClock, type Micros } from "#core/time/micros";
import { PlainText } from "../components/PlainText";
import { Day } from "../components/When";
import type { Player } from "../player/player";
import { momentOf } from "./Composer";
import { NameField } from "./NameField";
import type { AnswersStore, Me } from "./store";
import { WriteField } from "./Thread";
import { useSay } from "./useSay";

const LEAD: Record<Exclude<Ask["kind"], "nothing">, string> = {
  nod: "A nod is asked for: do you understand, and agree?",
  choice: "A choice is asked for.",
  words: "An answer is asked for.",
};

/** What the sender needs back, and what this viewer has given. May be changed until the sender closes it. */
export function AskPane({
  ask,
  answer,
  sender,
  store,
  me,
  player,
  onSeek,
}: {
  ask: Ask;
  answer: Given | null;
  sender: string;
  store: AnswersStore | null;
  me: Me | null;
  player: Player | null;
  onSeek: (at: Micros) => void;
}) {
  const { say, busy } = useSay(store);
  const [given, setGiven] = useState<Given | null>(null);
  const [changing, setChanging] = useState(false);
  const [unclear, setUnclear] = useState<Micros | null>(null);
  const [waiting, setWaiting] = useState<Answer | null>(null);
  if (ask.kind === "nothing") return null;
  const latest = given ?? answer;
  // What was answered to an earlier question is no answer to this one.
  const now = latest && isCurrent(ask, latest) ? latest.answer : null;
  const send = async (next: Answer, named?: boolean) => {
    if (!(named ?? (await store?.hasName()))) return setWaiting(next);
    setWaiting(null);
    if (!(await say({ do: "answer", answer: next, version: ask.version }))) return;
    setGiven({ answer: next, version: ask.version });
    setChanging(false);
    setUnclear(null);
  };
  const asking = !ask.closed && (!now || changing);
  return (
    <Box
      component="section"
      aria-label="What is asked"
      sx={{
        borderLeft: "6px solid",
        borderColor: "marigold.main",
        bgcolor: "background.paper",
        borderTop: "1px solid",
        borderBottom: "1px solid",
        borderTopColor: "mist",
        borderBottomColor: "mist",
        borderRight: "1px solid",
        borderRightColor: "mist",
        px: 2,
        py: 1.25,
        display: "grid",
        gap: 1,
      }}
    >
      <Typography variant="h3" component="h2">
        {ask.question ? <PlainText text={ask.question} /> : LEAD[ask.kind]}
        {ask.due && (
          // A line of its own: how it is said changes when the page wakes up, and nothing is to move then.
          <Typography component="span" color="text.secondary" noWrap sx={{ display: "block" }}>
            by <Day day={ask.due} />
          </Typography>
        )}
      </Typography>
      {now && !changing && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <Typography role="status">
            <strong>Your answer: </strong>
            <PlainText text={sayAnswer(ask, now)} />
            {now.kind === "not-clear" && (
              <Button size="small" onClick={() => onSeek(now.at)} className="clock">
                at {formatClock(now.at)}
              </Button>
            )}
          </Typography>
          {!ask.closed && <Button onClick={() => setChanging(true)}>Change it</Button>}
        </Box>
      )}
      {ask.closed && (
        <Typography color="text.secondary">
          {now ? "This is closed; your answer stays as it is." : "This is closed; nothing more is needed."}
        </Typography>
      )}
      {waiting && (
        <NameField store={store} me={me} onNamed={() => void send(waiting, true)} onCancel={() => setWaiting(null)} />
      )}
      {asking && !waiting && unclear === null && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}>
          {ask.kind === "nod" && (
            <Button
              variant="contained"
              color="marigold"
              disabled={busy}
              onClick={() => void send({ kind: "nod" })}
              sx={{ minWidth: 120 }}
            >
              Nod: it is clear
            </Button>
          )}
          {ask.kind === "choice" &&
            ask.choices.map((choice, i) => (
              <Button
                key={i}
                variant={now?.kind === "choice" && now.choice === i ? "contained" : "outlined"}
                color="marigold"
                disabled={busy}
                onClick={() => void send({ kind: "choice", choice: i })}
                sx={{ color: "text.primary" }}
              >
                {choice}
              </Button>
            ))}
          {ask.kind === "words" && (
            <Box sx={{ flex: "1 1 100%" }}>
              <WriteField
                label={`Your answer to ${sender}`}
                start={now?.kind === "words" ? now.words : ""}
                button="Send the answer"
                busy={busy}
                onSend={(words) => void send({ kind: "words", words })}
              />
            </Box>
          )}
          <Button
            color="clay"
            variant="outlined"
            disabled={busy}
            onClick={() => {
              player?.pause();
              setUnclear(momentOf(player));
            }}
          >
            Not clear yet
          </Button>
          {changing && <Button onClick={() => setChanging(false)}>Leave it</Button>}
        </Box>
      )}
      {asking && !waiting && unclear !== null && (
        <NotClear
          at={unclear}
          busy={busy}
          onCancel={() => setUnclear(null)}
          onSend={(words) => void send({ kind: "not-clear", at: unclear, words })}
        />
      )}
    </Box>
  );
}

/** Not clear at a moment, with a line if there is one to say. */
function NotClear({
  at,
  busy,
  onSend,
  onCancel,
}: {
  at: Micros;
  busy: boolean;
  onSend: (words: string) => void;
  onCancel: () => void;
}) {
  const [words, setWords] = useState("");
  return (
    <Box
      component="form"
      onSubmit={(e) => {
        e.preventDefault();
        onSend(words);
      }}
      sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
    >
      <Typography className="clock">At {formatClock(at)}:</Typography>
      <Box
        component="input"
        autoFocus
        aria-label="What is not clear (you may leave it out)"
        placeholder="What is not clear? You may leave it out."
        value={words}
        maxLength={2000}
        onChange={(e: React.ChangeEvent<HTMLInputElement>) => setWords(e.target.value)}
        onKeyDown={(e: React.KeyboardEvent) => e.stopPropagation()}
        sx={{
          flex: "1 1 220px",
          font: "inherit",
          p: 1,
          border: "1px solid",
          borderColor: "text.secondary",
          bgcolor: "background.paper",
          color: "text.primary",
        }}
      />
      <Button type="submit" variant="contained" color="clay" disabled={busy}>
        Say it is not clear
      </Button>
      <Button onClick={onCancel}>Cancel</Button>
    </Box>
  );
}
