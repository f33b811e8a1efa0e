import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, SECOND, spokenLength, type Micros } from "#core/time/micros";
import { TITLE_MAX, tidyTitle } from "#core/title/title";
import type { Chapter } from "#core/viewing/figures";
import { Folded } from "../components/Folded";

interface Props {
  id: string;
  /** on the source line, in its order */
  chapters: readonly Chapter[];
  /** what the talking points of the takes could be */
  proposed: readonly Chapter[];
  /** where the screen becomes another one: moments of the source line */
  beginnings: readonly Micros[];
  line: RecordedLine;
  /** the moment that is seen, on the source line */
  now: () => Micros;
  onSeek: (recorded: Micros) => void;
}

const MOST = 100;
/** A chapter that begins so near is the one that is proposed. */
const SAME: Micros = 5 * SECOND;

/** What each part is about. A change is there for everybody at once: it takes nothing away and needs no publishing. */
export function Chapters({ id, chapters, proposed, beginnings, line, now, onSeek }: Props) {
  const fetcher = useFetcher<{ error: string | null }>();
  // What was asked for is seen at once.
  const asked = fetcher.formData?.get("chapters");
  const shown = typeof asked === "string" ? (JSON.parse(asked) as Chapter[]) : chapters;
  const busy = fetcher.state !== "idle";
  const [adding, setAdding] = useState<Micros | null>(null);
  const [refused, setRefused] = useState<readonly Micros[]>([]);
  const left = beginnings.filter((at) => !refused.includes(at) && shown.every((c) => Math.abs(c.at - at) > SAME));
  /** Named by their order: what they are about nobody knows but the presenter. */
  const beginAt = (more: readonly Micros[]) => {
    const all = [...shown, ...more.map((at) => ({ at, title: "" }))].sort((a, b) => a.at - b.at);
    set(all.map(({ at, title }, i) => ({ at, title: title || `Part ${i + 1}` })));
  };
  const set = (next: readonly Chapter[]) => {
    const sorted = [...next].sort((a, b) => a.at - b.at);
    const deed = { do: "set-chapters", chapters: JSON.stringify(sorted), replaced: JSON.stringify(chapters) };
    void fetcher.submit(deed, { method: "post", action: `/recordings/${id}` });
  };
  return (
    <Folded later title="Chapters" value={shown.length === 0 ? "none" : String(shown.length)}>
      {shown.length === 0 && proposed.length > 0 && (
        <Button size="small" disabled={busy} onClick={() => set(proposed)} sx={{ justifySelf: "start" }}>
          Use your {proposed.length} talking points
        </Button>
      )}
      {left.length > 0 && shown.length + left.length <= MOST && (
        <Box role="group" aria-label="Proposed chapters" sx={{ display: "grid", gap: 0.5 }}>
          <Typography variant="body2">The screen shows something else at these pauses:</Typography>
          {left.map((at) => (
            <Box key={at} sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
              <Button
                size="small"
                className="clock"
                aria-label={`Go to what could begin at ${spokenLength(line.at(at))}`}
                onClick={() => onSeek(line.at(at))}
                sx={{ minWidth: 52, px: 0.5, mr: "auto" }}
              >
                {formatClock(line.at(at))}
              </Button>
              <Button
                size="small"
                disabled={busy}
                aria-label={`A chapter at ${spokenLength(line.at(at))}`}
                onClick={() => beginAt([at])}
              >
                Begin one
              </Button>
              <Button
                size="small"
                aria-label={`No chapter at ${spokenLength(line.at(at))}`}
                onClick={() => setRefused([...refused, at])}
              >
                Not here
              </Button>
            </Box>
          ))}
          {left.length > 1 && (
            <Button size="small" disabled={busy} onClick={() => beginAt(left)} sx={{ justifySelf: "start" }}>
              Begin all {left.length}
            </Button>
          )}
        </Box>
      )}
      {shown.length > 0 && (
        <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 1 }}>
          {shown.map((chapter) => (
            <Box component="li" key={chapter.at} sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
              <Button
                size="small"
                className="clock"
                aria-label={`Go to ${spokenLength(line.at(chapter.at))}`}
                onClick={() => onSeek(line.at(chapter.at))}
                sx={{ minWidth: 52, px: 0.5 }}
              >
                {formatClock(line.at(chapter.at))}
              </Button>
              <TitleField
                title={chapter.title}
                name={`Chapter at ${spokenLength(line.at(chapter.at))}`}
                onTitle={(title) => set(shown.map((c) => (c === chapter ? { ...c, title } : c)))}
              />
              <Button
                size="small"
                aria-label={`Remove the chapter ${chapter.title}`}
                disabled={busy}
                onClick={() => set(shown.filter((c) => c !== chapter))}
                sx={{ minWidth: 0 }}
              >
                Remove
              </Button>
            </Box>
          ))}
        </Box>
      )}
      {adding !== null ? (
        <TitleField
          title=""
          name={`A chapter at ${spokenLength(line.at(adding))}`}
          fresh
          onTitle={(title) => {
            set([...shown.filter((c) => c.at !== adding), { at: adding, title }]);
            setAdding(null);
          }}
          onLeave={() => setAdding(null)}
        />
      ) : (
        <Button
          size="small"
          variant="outlined"
          disabled={busy || shown.length >= MOST}
          onClick={() => setAdding(now())}
          sx={{ justifySelf: "start" }}
        >
          A chapter from here
        </Button>
      )}
      {fetcher.data?.error && !busy && (
        <Typography variant="body2" color="error" role="alert">
          {fetcher.data.error}
        </Typography>
      )}
    </Folded>
  );
}

interface TitleProps {
  title: string;
  name: string;
  /** it takes the keys at once */
  fresh?: boolean;
  onTitle: (title: string) => void;
  onLeave?: () => void;
}

/** Taken with Enter, or when it is left; Escape leaves it as it was. */
function TitleField({ title, name, fresh = false, onTitle, onLeave }: TitleProps) {
  const [text, setText] = useState(title);
  const left = useRef(false);
  useEffect(() => setText(title), [title]);
  const take = () => {
    const tidy = tidyTitle(text);
    if (!left.current && tidy && tidy !== title) onTitle(tidy);
    else {
      setText(title);
      onLeave?.();
    }
    left.current = false;
  };
  return (
    <TextField
      size="small"
      variant="standard"
      autoFocus={fresh}
      placeholder={fresh ? "What it is about, then Enter" : undefined}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Escape") left.current = true;
        if (event.key === "Enter" || event.key === "Escape") (event.target as HTMLInputElement).blur();
      }}
      slotProps={{ htmlInput: { "aria-label": name, maxLength: TITLE_MAX } }}
      sx={{ flex: 1, minWidth: 0 }}
    />
  );
}
