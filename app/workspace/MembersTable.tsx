import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher } from "react-router";
import type { MemberRole } from "#core/access/access";
import type { Colleague } from "#server/workspaces/workspaces";
import { Portrait } from "../components/Arch";
import { SelectField } from "../components/SelectField";
import { When } from "../components/When";
import { RemoveDialog } from "./RemoveDialog";
import { ROLE_NAMES } from "./words";
import { FormError } from "../components/FormError";

/** Who belongs to the workspace, what they are, and what they made. */
export function MembersTable({
  people,
  me,
  manages,
  workspace,
}: {
  people: Colleague[];
  me: string;
  manages: boolean;
  workspace: string;
}) {
  const [leaving, setLeaving] = useState<Colleague | null>(null);
  return (
    <>
      <Box component="ul" aria-label="People" sx={{ listStyle: "none", m: 0, p: 0, borderTop: "1px solid" }}>
        {people.map((person) => (
          <MemberRow
            key={person.id}
            person={person}
            isMe={person.id === me}
            manages={manages}
            onRemove={people.length > 1 ? () => setLeaving(person) : null}
          />
        ))}
      </Box>
      {leaving && (
        <RemoveDialog
          person={leaving}
          heirs={people.filter((p) => p.id !== leaving.id)}
          me={me}
          workspace={workspace}
          onClose={() => setLeaving(null)}
        />
      )}
    </>
  );
}

function MemberRow({
  person,
  isMe,
  manages,
  onRemove,
}: {
  person: Colleague;
  isMe: boolean;
  manages: boolean;
  onRemove: (() => void) | null;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { id, name, email, portrait, role, recordings, joinedAt, lastAt } = person;
  const changeRole = (to: MemberRole) =>
    fetcher.submit({ do: "role", person: id, role: to }, { method: "post", action: "/workspace" });
  return (
    <Box
      component="li"
      aria-label={name}
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "auto 1fr auto", sm: "auto 1fr 12rem 9rem 6rem" },
        columnGap: 2,
        rowGap: 0.5,
        alignItems: "center",
        py: 1.25,
        borderBottom: "1px solid",
        borderColor: "mist",
      }}
    >
      <Portrait name={name} digest={portrait} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
          {name}
          {isMe && (
            <Box component="span" sx={{ fontWeight: 400, color: "text.secondary" }}>
              {" "}
              (you)
            </Box>
          )}
        </Typography>
        <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: "anywhere" }}>
          {email}
        </Typography>
      </Box>
      {/* One line each, however a moment is said: nothing below moves when the page comes alive. */}
      <Typography variant="body2" sx={{ gridColumn: { xs: 2, sm: "auto" }, whiteSpace: "nowrap" }}>
        {recordings === 1 ? "1 recording" : `${recordings} recordings`}
        <Box component="span" sx={{ display: "block", color: "text.secondary" }}>
          since <When at={joinedAt} />
        </Box>
        {lastAt && (
          <Box component="span" sx={{ display: "block", color: "text.secondary" }}>
            last here <When at={lastAt} />
          </Box>
        )}
      </Typography>
      <Box sx={{ gridColumn: { xs: 3, sm: "auto" }, justifySelf: { xs: "end", sm: "start" } }}>
        {manages ? (
          <SelectField
            label={`Role of ${name}`}
            value={role}
            names={ROLE_NAMES}
            onChoose={changeRole}
            disabled={fetcher.state !== "idle"}
            minWidth={130}
          />
        ) : (
          ROLE_NAMES[role]
        )}
      </Box>
      <Box sx={{ gridColumn: { xs: 3, sm: "auto" }, gridRow: { xs: 1, sm: "auto" }, justifySelf: "end" }}>
        {manages && onRemove && (
          <Button size="small" onClick={onRemove} aria-label={isMe ? undefined : `Remove ${name}`}>
            {isMe ? "Leave" : "Remove"}
          </Button>
        )}
      </Box>
      <FormError error={fetcher.data?.error} sx={{ gridColumn: "1 / -1" }} />
    </Box>
  );
}
