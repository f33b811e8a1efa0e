import Close from "@mui/icons-material/Close";
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useFetcher } from "react-router";
import { InviteForm } from "../answers/InviteForm";
import { When } from "../components/When";
import { PersonalLinkButtons } from "./PersonalLinkButtons";
import { FormError } from "../components/FormError";

/** Somebody who is named: a personal link, and what became of the mail with it. */
export interface Named {
  id: string;
  name: string;
  email: string | null;
  key: string;
  mailedAt: string | null;
  bounced: string | null;
}

/** Who is named, each with a link of their own, and the field in which more are. */
export function NamedPeople({
  id,
  people,
  link,
  chosen,
  onChoose,
}: {
  id: string;
  people: readonly Named[];
  link: string;
  /** who is to be mailed */
  chosen: (person: Named) => boolean;
  onChoose: (person: Named, is: boolean) => void;
}) {
  return (
    <Box component="section" aria-label="Named people" sx={{ mt: 2 }}>
      <InviteForm recordingId={id} label="Name people" button="Name them" />
      {people.length > 0 && (
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, mt: 1, maxHeight: 168, overflowY: "auto" }}>
          {people.map((person) => (
            <NamedRow key={person.id} recordingId={id} person={person} link={link}>
              <Checkbox
                size="small"
                checked={chosen(person)}
                disabled={person.email === null}
                onChange={(_, is) => onChoose(person, is)}
                slotProps={{ input: { "aria-label": `Mail it to ${person.name}` } }}
                sx={{ ml: -1 }}
              />
            </NamedRow>
          ))}
        </Box>
      )}
    </Box>
  );
}

function NamedRow({
  recordingId,
  person,
  link,
  children,
}: {
  recordingId: string;
  person: Named;
  link: string;
  /** what stands before the name */
  children: ReactNode;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { id, name, email, key, mailedAt, bounced } = person;
  const send = (deed: string) =>
    void fetcher.submit({ do: deed, invite: id }, { method: "post", action: `/recordings/${recordingId}` });
  return (
    <Box
      component="li"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        columnGap: 1,
        py: 0.5,
        borderTop: "1px solid",
        borderColor: "mist",
      }}
    >
      {children}
      <Box sx={{ flex: "1 1 160px", minWidth: 0 }}>
        <Typography noWrap>{name}</Typography>
        <Typography
          variant="body2"
          color={bounced ? "error" : "text.secondary"}
          sx={{ overflowWrap: "anywhere" }}
          component="div"
        >
          {bounced ?? (
            <>
              {email ?? "no address"}
              {mailedAt && (
                <>
                  , mailed <When at={mailedAt} />
                </>
              )}
            </>
          )}
        </Typography>
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, ml: "auto" }}>
        <PersonalLinkButtons
          name={name}
          linkKey={key}
          beside={link}
          busy={fetcher.state !== "idle"}
          onClose={() => send("new-personal-link")}
        />
        <IconButton size="small" aria-label={`Name ${name} no more`} onClick={() => send("uninvite")}>
          <Close fontSize="inherit" />
        </IconButton>
      </Box>
      <FormError error={fetcher.data?.error} sx={{ flexBasis: "100%" }} />
    </Box>
  );
}
