import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { GROUP_NAMES, GROUPS } from "#core/answers/groups";
import type { Ask } from "#core/answers/kinds";
import type { People } from "#server/answers/people";

/** For the sender, in one line: how many stand in each group. */
export function AskSummary({ ask, people, recordingId }: { ask: Ask; people: People; recordingId: string }) {
  const { groups, overdue } = people;
  return (
    <Typography
      sx={{ borderLeft: "6px solid", borderColor: ask.kind === "nothing" ? "mist" : "marigold.main", pl: 1.5 }}
    >
      {ask.kind !== "nothing" && (
        <>
          <strong>{ask.question || "A nod is asked for."}</strong> {ask.closed && "(closed) "}
        </>
      )}
      {GROUPS.filter((g) => ask.kind !== "nothing" || g !== "answered").map(
        (g, i) => `${i > 0 ? ", " : ""}${GROUP_NAMES[g]}: ${groups[g]}`,
      )}
      {overdue > 0 && (
        <Box component="strong" sx={{ color: "clay.main" }}>
          , {overdue} overdue
        </Box>
      )}
      . <Link to={`/figures/${recordingId}`}>Figures</Link>
    </Typography>
  );
}
