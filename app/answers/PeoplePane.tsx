import Close from "@mui/icons-material/Close";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { Link, useFetcher } from "react-router";
import { GROUP_NAMES, GROUPS, type Group } from "#core/answers/groups";
import { sayAnswer, type Ask } from "#core/answers/kinds";
import type { People, PersonRow } from "#server/answers/people";
import { Portrait } from "../components/Arch";
import { useCopy } from "../components/useCopy";
import { personalLink } from "../share/personal-link";
import { InviteForm } from "./InviteForm";

interface Props {
  recordingId: string;
  people: People;
  ask: Ask;
  link: string;
}

/** For the sender: the four groups at all times, whom to ask, and who is late. */
export function PeoplePane({ recordingId, people, ask, link }: Props) {
  const { rows, groups, unnamed, more } = people;
  return (
    <Box
      component="section"
      aria-label="People"
      sx={{ display: "flex", flexDirection: "column", gap: 1.5, minHeight: 0 }}
    >
      <InviteForm recordingId={recordingId} label="Whom do you ask?" button="Add" />
      {ask.kind !== "nothing" && !ask.closed && (
        <Remind recordingId={recordingId} owing={rows.filter((p) => p.invite && p.group !== "answered").length} />
      )}
      <Box
        tabIndex={0}
        aria-label="The four groups"
        role="group"
        sx={{ overflowY: { md: "auto" }, minHeight: 0, flex: 1 }}
      >
        {GROUPS.map((group) => (
          <GroupList
            key={group}
            group={group}
            count={groups[group]}
            rows={rows.filter((p) => p.group === group)}
            ask={ask}
            link={link}
            recordingId={recordingId}
          />
        ))}
        {unnamed.opened > 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ py: 1 }}>
            {unnamed.opened} more asked not to be named; {unnamed.watched} of them watched.
          </Typography>
        )}
        {more > 0 && (
          <Typography variant="body2" color="text.secondary">
            and {more} more
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary" sx={{ py: 1 }}>
          A link that is passed on to somebody who gives no name counts as an unnamed guest.{" "}
          <Link to="/figures/counted">How is this counted?</Link>
        </Typography>
      </Box>
    </Box>
  );
}

/** Reminds those who were asked and have not answered. */
function Remind({ recordingId, owing }: { recordingId: string; owing: number }) {
  const fetcher = useFetcher<{ error: string | null; reminded?: number }>();
  const { state, data } = fetcher;
  if (owing === 0) return null;
  const remind = () => void fetcher.submit({ do: "remind" }, { method: "post", action: `/recordings/${recordingId}` });
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="body2">{owing === 1 ? "1 has not answered." : `${owing} have not answered.`}</Typography>
      <Button size="small" variant="outlined" onClick={remind} disabled={state !== "idle"}>
        {owing === 1 ? "Remind them" : "Remind them all"}
      </Button>
      {state === "idle" && data?.error && (
        <Typography variant="body2" role="alert">
          {data.error}
        </Typography>
      )}
      {state === "idle" && data?.reminded !== undefined && (
        <Typography variant="body2" role="status">
          {data.reminded === 1 ? "1 was reminded." : `${data.reminded} were reminded.`}
          {data.reminded < owing && " The others have no address, or were reminded today."}
        </Typography>
      )}
    </Box>
  );
}

/** Each group has its own sign besides its words. */
const GROUP_SIGN: Record<Group, string> = { answered: "▲", watched: "◭", opened: "△", "not-opened": "·" };

function GroupList({
  group,
  count,
  rows,
  ask,
  link,
  recordingId,
}: {
  group: Group;
  count: number;
  rows: PersonRow[];
  ask: Ask;
  link: string;
  recordingId: string;
}) {
  // Who gave no name cannot be told apart here; the figures have a row for each.
  const named = rows.filter((p) => p.name !== null || p.invite || p.answer);
  const others = rows.filter((p) => !named.includes(p));
  return (
    <Box
      component="section"
      aria-label={GROUP_NAMES[group]}
      sx={{ borderTop: "1px solid", borderColor: "mist", py: 1 }}
    >
      <Typography variant="h3" component="h2" sx={{ display: "flex", gap: 1 }}>
        <span aria-hidden>{GROUP_SIGN[group]}</span> {GROUP_NAMES[group]}
        <Box component="span" sx={{ ml: "auto" }} className="clock">
          {count}
        </Box>
      </Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {named.map((person) => (
          <Person key={person.id} person={person} ask={ask} link={link} recordingId={recordingId} />
        ))}
        {others.length > 0 && (
          <Typography component="li" variant="body2" color="text.secondary" sx={{ py: 0.5 }}>
            {others.length === 1 ? "An unnamed guest" : `${others.length} unnamed guests`},{" "}
            {Math.round((100 * others.reduce((sum, p) => sum + p.share, 0)) / others.length)} % seen on average
          </Typography>
        )}
      </Box>
    </Box>
  );
}

export const nameOf = (person: Pick<PersonRow, "name">) => person.name ?? "Unnamed guest";

function Person({
  person,
  ask,
  link,
  recordingId,
}: {
  person: PersonRow;
  ask: Ask;
  link: string;
  recordingId: string;
}) {
  const fetcher = useFetcher();
  const copy = useCopy();
  const { invite } = person;
  const name = nameOf(person);
  return (
    <Box component="li" sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.5 }}>
      <Portrait
        name={person.name ?? "?"}
        digest={person.portrait}
        sx={{ width: 24, height: 27, fontSize: 10.5, flexShrink: 0 }}
      />
      <Box sx={{ minWidth: 0, flex: 1 }}>
        <Typography variant="body2" noWrap title={invite?.email ?? undefined}>
          {name}
          {person.name !== null && person.invite === null && !person.member && " (guest)"}
          {person.overdue && (
            <Box component="strong" sx={{ color: "clay.main", ml: 1 }}>
              overdue
            </Box>
          )}
        </Typography>
        {(person.answer || person.firstOpenedAt) && (
          <Typography
            variant="body2"
            color={person.answer?.kind === "not-clear" ? "clay.main" : "text.secondary"}
            sx={{ overflowWrap: "anywhere" }}
          >
            {person.answer ? sayAnswer(ask, person.answer) : `${Math.round(person.share * 100)} % seen`}
          </Typography>
        )}
      </Box>
      {invite && (
        <>
          <Button
            size="small"
            aria-label={`Copy the personal link of ${name}`}
            title="By this link we know that it is this person"
            onClick={() => void copy(personalLink(link, invite.key), `Personal link of ${name} copied`)}
          >
            Link
          </Button>
          <IconButton
            size="small"
            aria-label={`Ask ${name} no more`}
            onClick={() =>
              void fetcher.submit(
                { do: "uninvite", invite: invite.id },
                { method: "post", action: `/recordings/${recordingId}` },
              )
            }
          >
            <Close fontSize="inherit" />
          </IconButton>
        </>
      )}
    </Box>
  );
}
