import Download from "@mui/icons-material/Download";
import PlayArrow from "@mui/icons-material/PlayArrow";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import Joi from "joi";
import { useRef } from "react";
import { data, Link, useFetcher, useNavigate } from "react-router";
import { GROUP_NAMES, GROUPS } from "#core/answers/groups";
import { AnnotationError, readAnnotations } from "#core/answers/web-annotation";
import { formatClock, toSeconds } from "#core/time/micros";
import type { Moment } from "#core/viewing/figures";
import { Problem } from "#server/http/problem";
import { CurveChart } from "../figures/CurveChart";
import { PeopleTable } from "../figures/PeopleTable";
import { percent } from "../figures/percent";
import { ownFigures, orNotFound, requireMember } from "../services/guard.server";
import { whoOf } from "../services/json.server";
import { reactionMarks } from "../timeline/lanes";
import { Timeline } from "../timeline/Timeline";
import type { Handle } from "./frame";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/recording-figures";

export const handle: Handle = { showsNews: true };

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Figures${loaderData ? ` of ${loaderData.title}` : ""} · Clear Nod` },
];

export async function loader({ context, params, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const { runtime } = app;
  const recording = await orNotFound(ownFigures(app, member, params.id));
  const { value, error } = query.validate(Object.fromEntries(url.searchParams), {
    stripUnknown: true,
  });
  if (error) throw data({ message: error.message }, { status: 400 });
  const { from } = value as { from: number };
  const ask = await runtime.asks.of(recording.id);
  const [one, { title }] = await Promise.all([
    runtime.figures.one(recording.id, ask, Date.now(), { offset: from, limit: PEOPLE }),
    runtime.library.details(recording.id),
  ]);
  return { ...one, ask, title, id: recording.id, token: recording.token, from };
}

/** People on a page of the table. */
const PEOPLE = 40;
const query = Joi.object({ from: Joi.number().integer().min(0).max(1_000_000).default(0) });

/** Takes comments in from an annotation file, sent as it is. */
export async function action({ context, request, params, url }: Route.ActionArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const { runtime } = app;
  try {
    const recording = await ownFigures(app, member, params.id);
    await runtime.limits.take("invite", { viewer: member.id, address: app.address });
    const { comments, skipped } = readAnnotations(JSON.parse(await request.text()));
    // The sender may never have opened their own page.
    const { viewer } = await runtime.viewers.visit(recording, whoOf(app), { invite: null, named: true });
    const { added, known, lost } = await runtime.comments.bringIn(recording.id, viewer, comments);
    return data({
      said: `${added} comments were added; ${known} were there already; ${skipped + lost} entries were no comments on a moment.`,
      error: null,
    });
  } catch (cause) {
    const message =
      cause instanceof SyntaxError
        ? "This file is no JSON. Nothing was added."
        : cause instanceof AnnotationError || cause instanceof Problem
          ? cause.message
          : null;
    if (message === null) throw cause;
    return data({ said: null, error: message }, { status: cause instanceof Problem ? cause.status : 422 });
  }
}

const MOMENT_WORDS: Record<Moment["kind"], (value: number) => string> = {
  again: (value) => `Played again most: ${value.toFixed(1)} more times for each person`,
  "not-clear": (value) => `Not clear to ${value === 1 ? "one person" : `${value} people`}`,
  leave: (value) => `${value} people leave here`,
};

export default function RecordingFigures({ loaderData }: Route.ComponentProps) {
  const { title, id, token, length, chapters, figures, people, lanes, ask, from } = loaderData;
  const navigate = useNavigate();
  const play = (at: number) => void navigate(`/w/${token}#t=${toSeconds(at)}`);
  return (
    <Box sx={{ maxWidth: 1160, mx: "auto", px: { xs: 1.5, sm: 3 }, py: { xs: 2, md: 3 } }}>
      <Typography variant="body2">
        <Link to="/figures">Figures</Link>
      </Typography>
      <Typography variant="h1" sx={{ mb: 1, overflowWrap: "anywhere" }}>
        {title}
      </Typography>
      <Box component="dl" sx={{ display: "flex", flexWrap: "wrap", columnGap: 4, rowGap: 1, m: 0, mb: 2 }}>
        <Fact name="Views" value={String(figures.watched)} />
        <Fact name="Finished" value={String(figures.finished)} />
        <Fact name="Seen on average" value={figures.watched > 0 ? percent(figures.averageShare) : "–"} />
        {GROUPS.filter((g) => g !== "answered" || ask.kind !== "nothing").map((g) => (
          <Fact key={g} name={GROUP_NAMES[g]} value={String(people.groups[g])} />
        ))}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 2, alignItems: "center" }}>
        <Button component={Link} to={`/w/${token}`} variant="contained">
          Open the recording
        </Button>
        <File href={`/figures/${id}/people.csv`}>People (CSV)</File>
        <File href={`/figures/${id}/statements.json`}>Viewing (xAPI)</File>
        <File href={`/figures/${id}/comments.json`}>Comments (Web Annotation)</File>
        <BringIn />
        <Link to="/figures/counted">How is this counted?</Link>
      </Box>
      {figures.watched === 0 ? (
        <Typography sx={{ py: 4, borderTop: "1px solid", borderColor: "mist" }}>
          Nobody has watched yet. When somebody does, the curve and the moments to look at stand here.
        </Typography>
      ) : (
        <Box
          component="section"
          aria-label="Along the length"
          sx={{ border: "1px solid", borderColor: "mist", bgcolor: "background.paper", p: 2, mb: 3 }}
        >
          <CurveChart curve={figures.curve} length={length} />
          <Timeline
            length={length}
            onSeek={play}
            lanes={[
              ...(chapters.length > 0 ? [{ name: "Chapters", chapters }] : []),
              {
                name: "Comments",
                marks: lanes.comments.map((at, i) => ({
                  key: `${i}`,
                  at,
                  until: null,
                  label: "Comment",
                  color: "text.primary",
                  sign: "▪",
                })),
              },
              { name: "Reactions", marks: reactionMarks(lanes.reactions, length) },
            ]}
          />
          <Box className="clock" sx={{ display: "flex", justifyContent: "space-between" }}>
            <span>0:00</span>
            <span>{formatClock(length)}</span>
          </Box>
        </Box>
      )}
      {figures.moments.length > 0 && (
        <Box component="section" aria-label="Moments to look at" sx={{ mb: 3 }}>
          <Typography variant="h2">Moments to look at</Typography>
          <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
            {figures.moments.map((m) => (
              <Box
                component="li"
                key={m.kind}
                sx={{
                  display: "flex",
                  gap: 1.5,
                  alignItems: "center",
                  borderBottom: "1px solid",
                  borderColor: "mist",
                  py: 0.5,
                }}
              >
                <Button startIcon={<PlayArrow />} onClick={() => play(m.at)} className="clock" sx={{ minWidth: 96 }}>
                  {formatClock(m.at)}
                </Button>
                {MOMENT_WORDS[m.kind](m.value)}
              </Box>
            ))}
          </Box>
        </Box>
      )}
      {figures.chapters.length > 0 && figures.watched > 0 && (
        <Box component="section" aria-label="Chapters" sx={{ mb: 3, overflowX: "auto" }} tabIndex={0}>
          <Typography variant="h2">Chapters</Typography>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell>Chapter</TableCell>
                <TableCell align="right">From</TableCell>
                <TableCell align="right">Seen on average</TableCell>
                <TableCell align="right">Played again</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {figures.chapters.map((c) => (
                <TableRow key={c.at}>
                  <TableCell>{c.title}</TableCell>
                  <TableCell align="right" className="clock">
                    {formatClock(c.at)}
                  </TableCell>
                  <TableCell align="right">{percent(c.share)}</TableCell>
                  <TableCell align="right">{percent(c.again)}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
      <PeopleTable people={people} ask={ask} length={length} from={from} page={PEOPLE} />
    </Box>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <Box>
      <Typography component="dt" variant="body2" color="text.secondary">
        {name}
      </Typography>
      <Typography component="dd" variant="h2" sx={{ m: 0 }}>
        {value}
      </Typography>
    </Box>
  );
}

function File({ href, children }: { href: string; children: string }) {
  return (
    <Button href={href} download startIcon={<Download />}>
      {children}
    </Button>
  );
}

/** Chooses an annotation file and sends it as it is. */
function BringIn() {
  const fetcher = useFetcher<typeof action>();
  const input = useRef<HTMLInputElement>(null);
  const said = fetcher.data;
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".json,.jsonld,application/json,application/ld+json"
        aria-label="A file with comments"
        hidden
        onChange={async (e) => {
          const file = e.target.files?.[0];
          if (file) void fetcher.submit(await file.text(), { method: "post", encType: "text/plain" });
          e.target.value = "";
        }}
      />
      <Button onClick={() => input.current?.click()} disabled={fetcher.state !== "idle"}>
        {fetcher.state === "idle" ? "Bring comments in" : "Bringing in"}
      </Button>
      {said && (
        <Typography
          role={said.error ? "alert" : "status"}
          color={said.error ? "error" : undefined}
          sx={{ flexBasis: "100%" }}
        >
          {said.error ?? said.said}
        </Typography>
      )}
    </>
  );
}
