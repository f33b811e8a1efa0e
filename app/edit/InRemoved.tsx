import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { ShownComment } from "#server/answers/comments";
import { Folded } from "../components/Folded";

interface Props {
  /** on the source line */
  comments: readonly ShownComment[];
  shown: readonly Range[];
  line: RecordedLine;
  onSeek: (recorded: Micros) => void;
}

/** Comments of stretches that this edit leaves out: nobody sees them, and they come back with what they are about. */
export function InRemoved({ comments, shown, line, onSeek }: Props) {
  const out = comments.filter(
    ({ at, until }) => !shown.some((kept) => kept.from < Math.max(at + 1, until ?? 0) && at < kept.to),
  );
  if (out.length === 0) return null;
  return (
    <Folded title="In a removed stretch" value={out.length === 1 ? "1 comment" : `${out.length} comments`}>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.5 }}>
        {out.map(({ id, at, name, body }) => (
          <Box component="li" key={id}>
            <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
              <Button
                size="small"
                className="clock"
                aria-label={`Go to ${spokenLength(line.at(at))}`}
                onClick={() => onSeek(line.at(at))}
                sx={{ minWidth: 0, px: 0.5, py: 0, minHeight: 24 }}
              >
                {formatClock(line.at(at))}
              </Button>{" "}
              {name}: {body}
            </Typography>
          </Box>
        ))}
      </Box>
    </Folded>
  );
}
