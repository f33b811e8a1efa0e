import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { keepWantsName, wantsName } from "./identity";
import { NameField } from "./NameField";
import type { AnswersStore, Me } from "./store";

/**
 * Tells a viewer, in the open, what the sender learns, and lets them change it: their name, and whether they are named
 * at all.
 */
export function ViewerNote({ store, me, sender }: { store: AnswersStore | null; me: Me | null; sender: string }) {
  const [naming, setNaming] = useState(false);
  if (!me) return null;
  const change = (named: boolean) => {
    keepWantsName(named);
    void store?.open(null, named);
  };
  return (
    <Box component="aside" aria-label="What the sender learns" sx={{ px: { xs: 1.5, sm: 0 }, py: 2, maxWidth: 720 }}>
      <Typography variant="body2" color="text.secondary" component="div">
        {me.named
          ? `${sender} sees what you watched, as ${me.name ?? "an unnamed guest"}.`
          : wantsName()
            ? "Your browser asks not to be followed: you are counted, and not named."
            : "You are counted, and not named."}{" "}
        <Link to="/figures/counted" target="_blank">
          How is this counted?
        </Link>
        <Box sx={{ ml: -1 }}>
          {(me.named || !wantsName()) && (
            <Button size="small" onClick={() => change(!me.named)}>
              {me.named ? "Do not name me" : "Name me"}
            </Button>
          )}
          {!me.isMember && !naming && (
            <Button size="small" onClick={() => setNaming(true)}>
              {me.name ? "Change my name" : "Give my name"}
            </Button>
          )}
        </Box>
      </Typography>
      {naming && <NameField store={store} me={me} onNamed={() => setNaming(false)} onCancel={() => setNaming(false)} />}
    </Box>
  );
}
