import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import type { Audience } from "#core/access/access";
import type { RowState as State } from "#server/recordings/rows";

/** Each state has its own sign besides its words and colour. */
const SIGN: Record<State["kind"] | "draft" | "paused", { sign: string; color: string }> = {
  recording: { sign: "◆", color: "clay.main" },
  paused: { sign: "❚❚", color: "text.primary" },
  uploading: { sign: "↑", color: "text.primary" },
  ready: { sign: "▲", color: "primary.main" },
  draft: { sign: "△", color: "text.secondary" },
  interrupted: { sign: "!", color: "clay.main" },
  empty: { sign: "!", color: "clay.main" },
};

/** @param audience null where that is not said: who may open it is its owner's to know */
export function stateWords(state: State, audience: Audience | null): string {
  switch (state.kind) {
    case "recording":
      return state.paused ? "Paused" : "Recording now";
    case "uploading":
      return `Uploading, ${state.stored} of ${state.expected} parts here`;
    case "interrupted":
      return state.expected === null
        ? "Stopped unexpectedly"
        : `${state.expected - state.stored} of ${state.expected} parts missing`;
    case "empty":
      return "Nothing arrived";
    case "ready":
      return audience ? `Ready, ${AUDIENCE_WORDS[audience]}` : "";
  }
}

const AUDIENCE_WORDS: Record<Audience, string> = {
  owner: "only you",
  named: "named people",
  folder: "the people of its folder",
  workspace: "everybody here",
  anyone: "anyone with the link",
};

const ADVICE: Partial<Record<State["kind"], string>> = {
  interrupted: "Open Record in the browser that made it; it keeps the rest and will offer to send it. Or end it here.",
  empty: "Open Record in the browser that made it, or delete this row.",
};

export function RowState({ state, audience }: { state: State; audience: Audience | null }) {
  // To others than its owner it is simply there.
  if (state.kind === "ready" && audience === null) return null;
  const look =
    SIGN[
      state.kind === "recording" && state.paused
        ? "paused"
        : state.kind === "ready" && audience === "owner"
          ? "draft"
          : state.kind
    ];
  return (
    <Box>
      <Box component="span" sx={{ color: look.color, fontWeight: 600, mr: 1 }} aria-hidden>
        {look.sign}
      </Box>
      {stateWords(state, audience)}
      {state.kind === "uploading" && (
        <LinearProgress
          variant="determinate"
          value={state.expected ? (100 * state.stored) / state.expected : 0}
          aria-label="Upload"
          sx={{ mt: 0.5, height: 3 }}
        />
      )}
      {ADVICE[state.kind] && (
        <Box component="span" sx={{ display: "block", color: "text.secondary" }}>
          {ADVICE[state.kind]}
        </Box>
      )}
    </Box>
  );
}
