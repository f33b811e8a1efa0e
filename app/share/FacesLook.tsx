import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { FaceFinder } from "#capture/check/face-finder";
import { othersSeen, partsOf, type FacesAt, type OthersSeen } from "#core/check/others";
import { formatClock } from "#core/time/micros";
import type { FacesWish } from "#server/sharing/glance";
import { picturesOf } from "../player/pictures-of";

/** Null: faces cannot be looked for here. */
type Outcome = { looked: number; others: OthersSeen[] } | null;

/** What a look has come to. */
type State =
  | { is: "not begun" }
  | { is: "looking"; looked: number }
  | { is: "done"; outcome: Outcome }
  | { is: "failed"; problem: string };

const NOT_BEGUN: State = { is: "not begun" };

/** Looks in a recording for faces that are not its presenter's, in this browser, when its sender wants it. */
export function FacesLook({ wishes, link }: { wishes: readonly FacesWish[]; link: string }) {
  const [state, setState] = useState(NOT_BEGUN);
  const look = useRef<AbortController | null>(null);
  useEffect(() => () => look.current?.abort(), []);
  const all = wishes.reduce((sum, { at }) => sum + at.length, 0);
  if (all === 0) return null;
  const begin = () => {
    const { signal } = (look.current = new AbortController());
    setState({ is: "looking", looked: 0 });
    findOthers(wishes, (looked) => setState({ is: "looking", looked }), signal).then(
      (outcome) => signal.aborted || setState({ is: "done", outcome }),
      (error: Error) => signal.aborted || setState({ is: "failed", problem: error.message }),
    );
  };
  const stop = () => {
    look.current?.abort();
    setState(NOT_BEGUN);
  };
  if (state.is === "looking")
    return (
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <LinearProgress
          variant="determinate"
          value={(100 * state.looked) / all}
          aria-label="Looking for faces"
          sx={{ flex: "1 1 160px" }}
        />
        <Typography role="status">
          {state.looked} of {all} pictures
        </Typography>
        <Button size="small" onClick={stop}>
          Stop
        </Button>
      </Box>
    );
  return (
    <>
      {state.is === "done" && <Told outcome={state.outcome} link={link} />}
      {state.is === "failed" && (
        <Typography role="alert" color="error">
          {state.problem}
        </Typography>
      )}
      <Box>
        <Button variant="outlined" onClick={begin}>
          {state.is === "not begun" ? "Look for other faces in it" : "Look once more"}
        </Button>
      </Box>
    </>
  );
}

function Told({ outcome, link }: { outcome: Outcome; link: string }) {
  if (!outcome) return <Typography role="status">Faces cannot be looked for in this browser.</Typography>;
  const { looked, others } = outcome;
  const pictures = looked === 1 ? "one picture" : `${looked} pictures`;
  return (
    <>
      <Typography role="status">
        {others.length === 0
          ? `In ${pictures} no face besides the presenter's was found.`
          : "Somebody else may be seen:"}
      </Typography>
      {others.length > 0 && (
        <Box component="ul" aria-label="Where somebody else may be seen" sx={{ m: 0, pl: 2.5 }}>
          {others.map(({ of, from, to, faces }) => (
            <li key={`${of} ${from}`}>
              <Link href={`${link}#t=${from / 1_000_000}`} className="clock">
                {formatClock(from)}
              </Link>
              {formatClock(to) !== formatClock(from) && ` to ${formatClock(to)}`}
              {of === "camera"
                ? `, ${faces} people before the camera`
                : faces === 1
                  ? ", a face on the screen"
                  : `, ${faces} faces on the screen`}
            </li>
          ))}
        </Box>
      )}
      <Typography variant="body2" color="text.secondary">
        It looks at some moments, not at all of them, and may overlook somebody.
      </Typography>
    </>
  );
}

/** @throws where a picture does not come; the signal's reason where it is aborted */
async function findOthers(
  wishes: readonly FacesWish[],
  onLooked: (looked: number) => void,
  signal: AbortSignal,
): Promise<Outcome> {
  const finder = new FaceFinder();
  const looks: FacesAt[] = [];
  try {
    for (const { of, url, at: moments } of wishes)
      for await (const { at, picture } of picturesOf(url, moments, signal)) {
        const report = await finder.look(picture, of === "screen" ? partsOf(picture) : undefined);
        if (!report) return null;
        looks.push({ of, at, faces: report.faces.length });
        onLooked(looks.length);
      }
    return { looked: looks.length, others: othersSeen(looks) };
  } finally {
    finder.close();
  }
}
