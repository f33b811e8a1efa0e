import Close from "@mui/icons-material/Close";
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useFetcher } from "react-router";
import type { ColleaguesRight, FolderRight } from "#core/access/folders";
import type { FolderPersonRow } from "#server/folders/people";
import { SelectField } from "../components/SelectField";
import { useWho } from "../components/useWho";
import { PersonalLinkButtons } from "../share/PersonalLinkButtons";
import { When } from "../components/When";

const RIGHT_NAMES: Record<FolderRight, string> = {
  view: "may look",
  add: "may put recordings here",
  manage: "may manage it",
};

interface FolderOf {
  id: string;
  name: string;
  workspaceName: string;
  ownColleagues: ColleaguesRight | null;
  colleagues: ColleaguesRight | null;
}

interface Props {
  folder: FolderOf;
  people: readonly FolderPersonRow[];
  base: string;
  mails: boolean;
}

/** For those who manage a folder: who belongs to it, and to everything in it. */
export function FolderPeople({ folder, people, base, mails }: Props) {
  return (
    <Box component="section" aria-labelledby="folder-people" sx={{ mt: 4 }}>
      <Typography id="folder-people" variant="h2" sx={{ mb: 2.5 }}>
        Who sees this folder
      </Typography>
      <Colleagues folder={folder} />
      <Box component="ul" aria-label="People" sx={{ listStyle: "none", m: 0, p: 0, borderTop: "1px solid" }}>
        {people.map((person) => (
          <PersonRow key={person.id} folderId={folder.id} person={person} base={base} />
        ))}
      </Box>
      <AddPeople folderId={folder.id} mails={mails} />
    </Box>
  );
}

const NOTHING = "none";

/** What everybody of the workspace may do. */
function Colleagues({ folder: { id, workspaceName, ownColleagues, colleagues } }: { folder: FolderOf }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const inherited = colleagues !== null && colleagues !== ownColleagues;
  return (
    <Box sx={{ mb: 2 }}>
      <SelectField
        label={`Everybody of ${workspaceName}`}
        value={ownColleagues ?? NOTHING}
        names={{ [NOTHING]: "sees nothing of it", view: RIGHT_NAMES.view, add: RIGHT_NAMES.add }}
        onChoose={(value) =>
          void fetcher.submit(
            { do: "colleagues", colleagues: value === NOTHING ? "" : value },
            { method: "post", action: `/f/${id}` },
          )
        }
        disabled={fetcher.state !== "idle"}
        minWidth={260}
      />
      {inherited && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          By a folder above everybody {RIGHT_NAMES[colleagues]}.
        </Typography>
      )}
      <Failure error={fetcher.data?.error} />
    </Box>
  );
}

function PersonRow({ folderId, person, base }: { folderId: string; person: FolderPersonRow; base: string }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { id, name, email, may, key, mailedAt, bounced, isColleague, by } = person;
  const busy = fetcher.state !== "idle";
  const send = (fields: Record<string, string>) =>
    void fetcher.submit({ person: id, ...fields }, { method: "post", action: `/f/${folderId}` });
  return (
    <Box
      component="li"
      aria-label={name}
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        columnGap: 1.5,
        rowGap: 1.25,
        py: 1,
        borderBottom: "1px solid",
        borderColor: "mist",
      }}
    >
      <Box sx={{ flex: "1 1 200px", minWidth: 0 }}>
        <Typography sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>{name}</Typography>
        <Typography
          variant="body2"
          component="div"
          color={bounced ? "error" : "text.secondary"}
          sx={{ overflowWrap: "anywhere" }}
        >
          {bounced ?? [email, !isColleague && "from outside"].filter(Boolean).join(", ")}
          {!bounced && mailedAt && (
            <>
              , mailed <When at={mailedAt} />
            </>
          )}
        </Typography>
      </Box>
      {by ? (
        <Typography variant="body2">
          {RIGHT_NAMES[may]}, by <Link to={`/f/${by.id}`}>{by.name}</Link>
        </Typography>
      ) : (
        <>
          {key === null ? (
            <SelectField
              label={`What ${name} may do`}
              value={may}
              names={RIGHT_NAMES}
              onChoose={(next) => send({ do: "right", may: next })}
              disabled={busy}
              minWidth={190}
            />
          ) : (
            <>
              <Typography variant="body2">{RIGHT_NAMES[may]}</Typography>
              <PersonalLinkButtons
                name={name}
                linkKey={key}
                beside={base}
                busy={busy}
                onClose={() => send({ do: "new-link" })}
              />
            </>
          )}
          <IconButton
            size="small"
            disabled={busy}
            aria-label={`${name} belongs to it no more`}
            onClick={() => send({ do: "remove-person" })}
          >
            <Close fontSize="inherit" />
          </IconButton>
        </>
      )}
      <Failure error={fetcher.data?.error} />
    </Box>
  );
}

function AddPeople({ folderId, mails }: { folderId: string; mails: boolean }) {
  const { fetcher, who, setWho, busy, done } = useWho<{ error: string | null; mailed?: number }>();
  const [may, setMay] = useState<FolderRight>("view");
  const mailed = fetcher.data?.mailed ?? 0;
  return (
    <Box
      component="form"
      aria-label="More people"
      onSubmit={(e) => {
        e.preventDefault();
        void fetcher.submit({ do: "add-people", who, may }, { method: "post", action: `/f/${folderId}` });
      }}
      sx={{ mt: 2, display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "flex-start" }}
    >
      <TextField
        size="small"
        label="Let people in"
        value={who}
        onChange={(e) => setWho(e.target.value)}
        error={Boolean(fetcher.data?.error)}
        helperText={
          fetcher.data?.error ??
          `Names or addresses, with commas between. Who is no colleague gets a personal link${mails ? ", by mail where there is an address" : ""}.`
        }
        sx={{ flex: "1 1 260px" }}
      />
      <SelectField label="They" value={may} names={RIGHT_NAMES} onChoose={setMay} minWidth={190} />
      <Button type="submit" variant="outlined" disabled={busy || who.trim() === ""} sx={{ minHeight: 40 }}>
        Let them in
      </Button>
      {done && mailed > 0 && (
        <Typography role="status" sx={{ flexBasis: "100%" }}>
          {mailed === 1 ? "A link is on its way to one person." : `Links are on their way to ${mailed} people.`}
        </Typography>
      )}
    </Box>
  );
}

function Failure({ error }: { error: string | null | undefined }) {
  if (!error) return null;
  return (
    <Alert severity="error" role="alert" sx={{ flexBasis: "100%", mt: 1 }}>
      {error}
    </Alert>
  );
}
