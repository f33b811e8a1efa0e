import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useFetcher, useLocation } from "react-router";
import { DIGEST_HOUR, NOTICE_KINDS, type NoticeKind, type NoticeTime, type NoticeWishes } from "#core/notices/wishes";
import { Folded } from "../components/Folded";
import { TIME_NAMES } from "../components/notice-times";
import { SelectField } from "../components/SelectField";
import { zoneHere } from "../components/zone";
import { TellHere, type PushHere } from "./TellHere";
import { FormError } from "../components/FormError";

const KIND_NAMES: Record<NoticeKind, string> = {
  comment: "Comments and questions",
  reply: "Replies",
  "not-clear": "“Not clear yet”",
  answer: "Nods and answers",
  reaction: "Other reactions",
  view: "Somebody you named has opened it",
  owed: "What you are asked",
  folder: "New in a folder",
  ready: "A recording has arrived whole",
  trouble: "Something is missing or has failed",
  unused: "A recording that nobody uses goes soon",
};
const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const clock = (hour: number) => `${String(hour).padStart(2, "0")}:00`;
/** A letter before the hour: names that are numbers would be put in another order. */
const HOUR_NAMES = Object.fromEntries(HOURS.map((hour) => [`h${hour}`, clock(hour)]));
const NIGHT = { from: 20, until: 7 };

/** Of what somebody is told, where, and when. */
export function NoticesFold({ wishes, push, mails }: { wishes: NoticeWishes; push: PushHere; mails: boolean }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [mail, setMail] = useState(wishes.mail);
  const [hidden, setHidden] = useState(wishes.hidden);
  const [quiet, setQuiet] = useState(wishes.quiet);
  const isAimedAt = useLocation().hash === "#notices";
  const place = useRef<HTMLDivElement>(null);
  // The server is not told where on a page a link leads.
  useEffect(() => {
    if (!isAimedAt) return;
    place.current!.querySelector("details")!.open = true;
    place.current!.scrollIntoView();
  }, [isAimedAt]);
  const { state, data } = fetcher;
  const save = () => {
    const wishes: NoticeWishes = { mail, hidden, zone: zoneHere(), quiet };
    void fetcher.submit({ do: "notices", wishes: JSON.stringify(wishes) }, { method: "post" });
  };
  const show = (kind: NoticeKind, shown: boolean) =>
    setHidden(shown ? hidden.filter((one) => one !== kind) : [...hidden, kind]);
  const time = (kind: NoticeKind, next: NoticeTime) => setMail({ ...mail, [kind]: next });
  return (
    <div id="notices" ref={place}>
      <Folded title="How you are told" value={summary(wishes, mails)}>
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {NOTICE_KINDS.map((kind) => (
            <Box
              component="li"
              key={kind}
              sx={{
                display: "grid",
                gridTemplateColumns: { xs: "1fr 1fr", sm: "1fr 150px 170px" },
                gap: 1,
                alignItems: "center",
                py: 0.75,
                borderBottom: "1px solid",
                borderColor: "mist",
              }}
            >
              <Typography sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}>{KIND_NAMES[kind]}</Typography>
              <FormControlLabel
                control={
                  <Checkbox
                    checked={!hidden.includes(kind)}
                    disabled={kind === "owed"}
                    onChange={(e) => show(kind, e.target.checked)}
                    slotProps={{ input: { "aria-label": `${KIND_NAMES[kind]}, in Answers` } }}
                  />
                }
                label="In Answers"
              />
              {mails && (
                <SelectField
                  label="By mail"
                  value={mail[kind]}
                  names={TIME_NAMES}
                  onChoose={(next) => time(kind, next)}
                />
              )}
            </Box>
          ))}
        </Box>
        {mails && (
          <>
            <Typography variant="body2" color="text.secondary">
              What is gathered comes at {clock(DIGEST_HOUR)}, that of a week on Mondays. What you have read by then is
              not mailed.
            </Typography>
            <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
              <FormControlLabel
                control={
                  <Checkbox checked={quiet !== null} onChange={(e) => setQuiet(e.target.checked ? NIGHT : null)} />
                }
                label="Quiet hours, in which nothing comes"
              />
              {quiet && (
                <Box sx={{ display: "flex", gap: 2 }}>
                  <SelectField
                    label="From"
                    value={`h${quiet.from}`}
                    names={HOUR_NAMES}
                    onChoose={(hour) => setQuiet({ ...quiet, from: Number(hour.slice(1)) })}
                  />
                  <SelectField
                    label="Until"
                    value={`h${quiet.until}`}
                    names={HOUR_NAMES}
                    onChoose={(hour) => setQuiet({ ...quiet, until: Number(hour.slice(1)) })}
                  />
                </Box>
              )}
            </Box>
          </>
        )}
        <Button variant="outlined" onClick={save} disabled={state !== "idle"} sx={{ justifySelf: "start" }}>
          Keep it so
        </Button>
        <FormError error={data?.error} />
        {state === "idle" && data?.error === null && (
          <Typography role="status">Kept. You are told so from now on.</Typography>
        )}
        <TellHere push={push} mails={mails} />
      </Folded>
    </div>
  );
}

function summary({ mail, quiet }: NoticeWishes, mails: boolean): string {
  if (!mails) return "in Answers";
  const times = Object.values(mail);
  if (times.every((time) => time === "never")) return "in Answers, never by mail";
  const soon = times.includes("now") ? ", some of it at once by mail" : ", gathered by mail";
  return `in Answers${soon}${quiet ? `, quiet from ${clock(quiet.from)} to ${clock(quiet.until)}` : ""}`;
}
