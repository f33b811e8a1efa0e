import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import useMediaQuery from "@mui/material/useMediaQuery";
import { useState } from "react";
import { useFetcher } from "react-router";
import { AsFile } from "./AsFile";
import { BeforeSharing } from "./BeforeSharing";
import { EmbedCode } from "./EmbedCode";
import { Links } from "./Links";
import { NamedPeople, type Named } from "./NamedPeople";
import { SendForm } from "./SendForm";
import { SendOut } from "./SendOut";
import { Sentence } from "./Sentence";
import { WhereItLies } from "./WhereItLies";
import type { Shared, ShareChange } from "./shared";
import { FormError } from "../components/FormError";

/** Who can open a recording: one sentence, each part of which can be pressed; who is named; the link. */
export function ShareDialog({ shared, onClose }: { shared: Shared; onClose: () => void }) {
  const { id, as, workspace } = shared;
  const fetcher = useFetcher<{ error: string | null }>();
  const narrow = useMediaQuery("(max-width:600px)");
  const change = (part: ShareChange) =>
    void fetcher.submit({ do: "share", ...part }, { method: "post", action: `/recordings/${id}` });
  const invited = shared.people.flatMap((p) => (p.invite ? [{ ...p.invite, name: p.name ?? "" }] : []));
  // Who has an address and was not mailed yet is mailed, unless somebody wants it another way.
  const [chosenOnes, setChosenOnes] = useState<Readonly<Record<string, boolean>>>({});
  const chosen = (person: Named) => person.email !== null && (chosenOnes[person.id] ?? !person.mailedAt);
  const choose = (person: Named, is: boolean) => setChosenOnes((all) => ({ ...all, [person.id]: is }));
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth fullScreen={narrow} aria-labelledby="share-title">
      <DialogTitle id="share-title" variant="h2" sx={{ pb: 0.5 }}>
        Who can open it
      </DialogTitle>
      <DialogContent>
        <Box aria-busy={fetcher.state !== "idle"}>
          <Sentence as={as} workspace={workspace} onChange={change} />
          <FormError error={fetcher.data?.error} sx={{ my: 1 }} />
        </Box>
        <WhereItLies shared={shared} />
        <NamedPeople id={id} people={invited} link={shared.link} chosen={chosen} onChoose={choose} />
        {invited.some((p) => p.email) && (
          <SendForm id={id} to={invited.filter((p) => chosen(p))} mails={shared.mails} />
        )}
        <Links shared={shared} />
        <BeforeSharing shared={shared} />
        <EmbedCode shared={shared} />
        <AsFile shared={shared} />
        <SendOut shared={shared} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} variant="contained">
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
