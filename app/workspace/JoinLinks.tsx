import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher } from "react-router";
import type { MemberRole } from "#core/access/access";
import type { OpenLink } from "#server/workspaces/workspaces";
import { SelectField } from "../components/SelectField";
import { useCopy } from "../components/useCopy";
import { useSaidMoment } from "../components/When";
import { InviteForm } from "./InviteForm";
import { ROLE_NAMES, ROLE_WORDS } from "./words";
import { FormError } from "../components/FormError";

type Link = OpenLink & { url: string };

const DAYS = { "1": "for a day", "7": "for a week", "30": "for 30 days" };

/** The links by which people come in: made, copied, closed. */
export function JoinLinks({ links, mails }: { links: Link[]; mails: boolean }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [role, setRole] = useState<MemberRole>("member");
  const [days, setDays] = useState<keyof typeof DAYS>("7");
  const busy = fetcher.state !== "idle";
  const make = () => fetcher.submit({ do: "link", role, days }, { method: "post", action: "/workspace" });
  return (
    <Box component="section" aria-labelledby="join-links" sx={{ mt: 5 }}>
      <Typography id="join-links" variant="h2" sx={{ mb: 1 }}>
        Let people in
      </Typography>
      <Typography sx={{ mb: 2 }}>
        By a link that you mail, or one that you give away: whoever has it can join, until it ends or you close it.{" "}
        {ROLE_NAMES[role]}: {ROLE_WORDS[role]}.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", mb: 2 }}>
        <SelectField label="They join as" value={role} names={ROLE_NAMES} onChoose={setRole} minWidth={140} />
        <SelectField label="The link is open" value={days} names={DAYS} onChoose={setDays} minWidth={140} />
        <Button variant="outlined" onClick={make} disabled={busy || role === "owner"}>
          Make a link to join
        </Button>
      </Box>
      {role === "owner" && <Typography sx={{ mb: 2 }}>Owners join only by a link that is mailed to them.</Typography>}
      {mails && <InviteForm as={{ role, days }} />}
      <FormError error={fetcher.data?.error} sx={{ mb: 2 }} />
      {links.length > 0 && (
        <Box component="ul" aria-label="Open links" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {links.map((link) => (
            <LinkRow key={link.id} link={link} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function LinkRow({ link: { id, url, role, address, madeBy, endsAt } }: { link: Link }) {
  const fetcher = useFetcher();
  const copy = useCopy();
  const close = () => fetcher.submit({ do: "close-link", link: id }, { method: "post", action: "/workspace" });
  return (
    <Box
      component="li"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 2,
        alignItems: "center",
        py: 1,
        borderTop: "1px solid",
        borderColor: "mist",
      }}
    >
      <Box sx={{ flex: 1, minWidth: 220 }}>
        <Typography className="clock" sx={{ overflowWrap: "anywhere" }}>
          {url}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {address && `Mailed to ${address}. `}
          {ROLE_NAMES[role]}, until <Until at={endsAt} />
          {madeBy && `, made by ${madeBy}`}
        </Typography>
      </Box>
      <Button size="small" variant="outlined" onClick={() => void copy(url)}>
        Copy
      </Button>
      <Button size="small" onClick={close} disabled={fetcher.state !== "idle"}>
        Close this link
      </Button>
    </Box>
  );
}

/** A moment that is to come. */
function Until({ at }: { at: string }) {
  return <time dateTime={at}>{useSaidMoment()(Date.parse(at))}</time>;
}
