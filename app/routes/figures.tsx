import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TableSortLabel from "@mui/material/TableSortLabel";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { formatClock } from "#core/time/micros";
import type { FiguresRow } from "#server/viewing/figures";
import { Notice } from "../components/Notice";
import { When } from "../components/When";
import { DaysChart } from "../figures/DaysChart";
import { Trend } from "../figures/SeenStrip";
import { requireMember } from "../services/guard.server";
import { zoneOf } from "../services/zone.server";
import type { Handle } from "./frame";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/figures";

export const handle: Handle = { showsNews: true };

export const meta: Route.MetaFunction = () => [{ title: "Figures · Clear Nod" }];

export async function loader({ context, request, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  return { rows: await app.runtime.figures.all(member, zoneOf(request)) };
}

/** Rows that are drawn at once; all of them are sorted. */
const PAGE = 100;

type Column = { name: string; of: (row: FiguresRow) => string | number; right?: boolean };
const COLUMNS: Column[] = [
  { name: "Recording", of: (r) => r.title.toLowerCase() },
  { name: "Made", of: (r) => r.createdAt },
  { name: "Opened", of: (r) => r.opened, right: true },
  { name: "Views", of: (r) => r.watched, right: true },
  { name: "Finished", of: (r) => r.finished, right: true },
  { name: "Seen on average", of: (r) => r.share ?? -1, right: true },
  { name: "Answered", of: (r) => r.answered, right: true },
  { name: "Not clear", of: (r) => r.notClear, right: true },
  { name: "Comments", of: (r) => r.comments, right: true },
];

export default function Figures({ loaderData: { rows } }: Route.ComponentProps) {
  const [shown, setShown] = useState(PAGE);
  const [sort, setSort] = useState<{ name: string; up: boolean }>({ name: "Made", up: false });
  const sorted = useMemo(() => {
    const { of } = COLUMNS.find((c) => c.name === sort.name)!;
    const sign = sort.up ? 1 : -1;
    return [...rows].sort((a, b) => sign * (of(a) < of(b) ? -1 : of(a) > of(b) ? 1 : 0));
  }, [rows, sort]);
  if (rows.length === 0) {
    return (
      <Notice
        title="No figures yet"
        action={
          <Button component={Link} to="/record" variant="contained" size="large">
            Record the first one
          </Button>
        }
      >
        When people watch what you recorded, you see here who saw what, where they played again, and where they left.
      </Notice>
    );
  }
  return (
    <Box sx={{ maxWidth: 1240, mx: "auto", px: { xs: 1.5, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, flexWrap: "wrap", mb: 2 }}>
        <Typography variant="h1" sx={{ mr: "auto" }}>
          Figures
        </Typography>
        <Link to="/figures/counted">How is this counted?</Link>
      </Box>
      <DaysChart rows={rows} />
      <Box
        sx={{ overflowX: "auto", border: "1px solid", borderColor: "mist", bgcolor: "background.paper", mt: 3 }}
        tabIndex={0}
        role="group"
        aria-label="All recordings, table"
      >
        <Table size="small" sx={{ "& th, & td": { px: 1.25 } }}>
          <TableHead>
            <TableRow>
              {COLUMNS.map(({ name, right }) => (
                <TableCell
                  key={name}
                  align={right ? "right" : "left"}
                  sortDirection={sort.name === name ? (sort.up ? "asc" : "desc") : false}
                >
                  <TableSortLabel
                    active={sort.name === name}
                    direction={sort.name === name && sort.up ? "asc" : "desc"}
                    onClick={() => setSort({ name, up: sort.name === name ? !sort.up : false })}
                  >
                    {name}
                  </TableSortLabel>
                </TableCell>
              ))}
              <TableCell>Last three weeks</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sorted.slice(0, shown).map((r) => (
              <TableRow key={r.id} hover>
                <TableCell sx={{ minWidth: 200 }}>
                  <Link to={`/figures/${r.id}`}>{r.title}</Link>{" "}
                  <Box component="span" className="clock" sx={{ color: "text.secondary" }}>
                    {formatClock(r.durationUs)}
                  </Box>
                </TableCell>
                <TableCell sx={{ whiteSpace: "nowrap" }}>
                  <When at={r.createdAt} />
                </TableCell>
                <TableCell align="right">{r.opened}</TableCell>
                <TableCell align="right">{r.watched}</TableCell>
                <TableCell align="right">{r.finished}</TableCell>
                <TableCell align="right">{r.share === null ? "–" : `${Math.round(r.share * 100)} %`}</TableCell>
                <TableCell align="right">{r.asked > 0 ? `${r.answered} of ${r.asked}` : r.answered}</TableCell>
                <TableCell align="right" sx={{ color: r.notClear > 0 ? "clay.main" : undefined }}>
                  {r.notClear}
                </TableCell>
                <TableCell align="right">{r.comments}</TableCell>
                <TableCell>
                  <Trend
                    values={r.trend}
                    label={`First opened by ${r.trend.reduce((a, b) => a + b, 0)} people in the last three weeks`}
                  />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
      {shown < sorted.length && (
        <Button onClick={() => setShown(shown + PAGE)} sx={{ mt: 1 }}>{`Show more of ${sorted.length}`}</Button>
      )}
    </Box>
  );
}
