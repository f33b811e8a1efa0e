import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import dayjs from "dayjs";
import { useFetcher } from "react-router";
import { KEPT_DAYS } from "#core/access/access";
import { takesOf, type TakeStretch } from "#core/recipe/edits";
import type { Deed } from "#core/recipe/history";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { takeOf } from "#core/recipe/source-line";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { DiscardedTakes } from "#server/recordings/discarded";
import { Folded } from "../components/Folded";
import { Day } from "../components/When";
import { Sure } from "../record/Sure";

interface Props {
  takes: readonly TakeStretch[];
  /** what is shown of them, in its order */
  shown: readonly Range[];
  line: RecordedLine;
  onDeed: (deed: Deed) => void;
  onSeek: (recorded: Micros) => void;
  onBring: () => void;
  /** of the recording */
  id: string;
  discarded: DiscardedTakes | null;
}

/**
 * Which of several takes are shown, and in which order; a new one can stand in for all before it. Takes of another
 * recording can be brought in.
 */
export function Takes({ takes, shown, line, onDeed, onSeek, onBring, id, discarded }: Props) {
  const order = takesOf(shown);
  const move = (place: number, by: -1 | 1) => {
    const next = [...order];
    [next[place], next[place + by]] = [next[place + by]!, next[place]!];
    onDeed({ do: "order", takes: next });
  };
  return (
    <Folded later title="Takes" value={takes.length === 1 ? "one" : `${order.length} of ${takes.length} shown`}>
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.5 }}>
        {takes.map((take) => {
          const position = takeOf(take.from);
          const place = order.indexOf(position);
          return (
            <Box
              component="li"
              key={position}
              sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 0.5 }}
            >
              <Button
                size="small"
                onClick={() => onSeek(line.at(take.from))}
                aria-label={`Go to take ${position}, ${spokenLength(take.to - take.from)} long`}
                sx={{ px: 0.5 }}
              >
                Take {position}, {formatClock(take.to - take.from)}
              </Button>
              <Box component="span" sx={{ mr: "auto", fontSize: 14, color: "text.secondary" }}>
                {take.brought && "brought in, "}
                {place < 0 ? "left out" : order.length > 1 ? `shown at place ${place + 1}` : "shown alone"}
              </Box>
              {place > 0 && (
                <Button size="small" aria-label={`Take ${position} earlier`} onClick={() => move(place, -1)}>
                  Earlier
                </Button>
              )}
              {!(place === 0 && order.length === 1) && (
                <Button
                  size="small"
                  aria-label={`Show only take ${position}`}
                  onClick={() => onDeed({ do: "only", take: position })}
                >
                  Only this
                </Button>
              )}
              {place < 0 && (
                <Button
                  size="small"
                  aria-label={`Show take ${position} as well`}
                  onClick={() => onDeed({ do: "put-back", from: take.from, to: take.to })}
                >
                  Put it back
                </Button>
              )}
            </Box>
          );
        })}
      </Box>
      <Button size="small" variant="outlined" onClick={onBring} sx={{ justifySelf: "start" }}>
        Bring in another recording
      </Button>
      {discarded && <ThrownAway id={id} discarded={discarded} />}
    </Folded>
  );
}

/** Takes that were discarded are shown to nobody, and go by themselves; at once, where their sender wants it. */
function ThrownAway({ id, discarded: { count, since } }: { id: string; discarded: DiscardedTakes }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const goes = dayjs(since).add(KEPT_DAYS, "day").format("YYYY-MM-DD");
  return (
    <Box sx={{ display: "grid", gap: 0.5 }}>
      <Typography variant="body2">
        {count === 1 ? "A discarded take is" : `${count} discarded takes are`} kept until <Day day={goes} />. Nobody can
        watch {count === 1 ? "it" : "them"}.
      </Typography>
      <Sure
        name={count === 1 ? "Delete it now" : "Delete them now"}
        sure="Delete for good"
        onSure={() => void fetcher.submit({ do: "erase-discarded" }, { method: "post", action: `/recordings/${id}` })}
      />
      {fetcher.data?.error && (
        <Typography role="alert" variant="body2" color="error">
          {fetcher.data.error}
        </Typography>
      )}
    </Box>
  );
}
