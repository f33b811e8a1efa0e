import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { sayAnswer, type Ask } from "#core/answers/kinds";
import { formatClock, type Micros } from "#core/time/micros";
import type { OneRecording } from "#server/viewing/figures";
import { nameOf } from "../answers/PeoplePane";
import { When } from "../components/When";
import { percent } from "./percent";
import { SeenStrip } from "./SeenStrip";

interface Props {
  people: OneRecording["people"];
  ask: Ask;
  length: Micros;
  /** how many stand before the first of these, and how many are on a page */
  from: number;
  page: number;
}

/** Everybody, with what they have seen along the length and what they answered. */
export function PeopleTable({ people, ask, length, from, page }: Props) {
  return (
    <Box component="section" aria-label="People">
      <Typography variant="h2">People</Typography>
      {people.rows.length === 0 && (
        <Typography sx={{ py: 2 }}>
          Nobody was asked and nobody has come yet. Share the link, or ask people by name on the recording’s page.
        </Typography>
      )}
      <Box sx={{ overflowX: "auto" }} tabIndex={0} role="group" aria-label="People, table">
        {people.rows.length > 0 && (
          <Table size="small">
            <TableHead>
              <TableRow>
                {["Who", "First opened", "Last opened", "Along the length", "Seen", "Answer"].map((name) => (
                  <TableCell key={name} align={name === "Seen" ? "right" : "left"}>
                    {name}
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {people.rows.map((p) => (
                <TableRow key={p.id}>
                  <TableCell sx={{ whiteSpace: "nowrap" }}>
                    {nameOf(p)}
                    {p.overdue && (
                      <Box component="strong" sx={{ color: "clay.main", ml: 1 }}>
                        overdue
                      </Box>
                    )}
                  </TableCell>
                  <TableCell sx={{ whiteSpace: "nowrap" }}>
                    {p.firstOpenedAt ? <When at={p.firstOpenedAt} /> : "not opened"}
                  </TableCell>
                  <TableCell sx={{ whiteSpace: "nowrap" }}>{p.lastOpenedAt && <When at={p.lastOpenedAt} />}</TableCell>
                  <TableCell sx={{ minWidth: 180, width: "30%" }}>
                    {p.numbers.length > 0 && (
                      <SeenStrip
                        seen={p.seen}
                        again={p.again}
                        length={length}
                        label={`${percent(p.share)} seen; played again: ${
                          p.again
                            .slice(0, 5)
                            .map((r) => `${formatClock(r.from)} to ${formatClock(r.to)}`)
                            .join(", ") || "nothing"
                        }`}
                      />
                    )}
                  </TableCell>
                  <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                    {p.numbers.length > 0 && percent(p.share)}
                    {p.finished && ", finished"}
                  </TableCell>
                  <TableCell
                    sx={{ overflowWrap: "anywhere", color: p.answer?.kind === "not-clear" ? "clay.main" : undefined }}
                  >
                    {p.answer && sayAnswer(ask, p.answer)}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </Box>
      {(from > 0 || people.more > 0) && (
        <Box sx={{ display: "flex", gap: 1 }}>
          {from > 0 && (
            <Button component={Link} to={`?from=${Math.max(0, from - page)}`}>
              Those before
            </Button>
          )}
          {people.more > 0 && (
            <Button component={Link} to={`?from=${from + page}`}>{`The next of ${people.more} more`}</Button>
          )}
        </Box>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ py: 1 }}>
        {people.unnamed.opened > 0 &&
          `${people.unnamed.opened} more asked not to be named; ${people.unnamed.watched} of them watched. `}
        In each strip the lower half is what was seen, the full height what was played again.
      </Typography>
    </Box>
  );
}
