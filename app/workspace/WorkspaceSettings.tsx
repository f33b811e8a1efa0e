import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import type { Outside } from "#core/access/access";
import { Folded } from "../components/Folded";
import { RenameForm } from "../components/RenameForm";
import { SelectField } from "../components/SelectField";
import { FormError } from "../components/FormError";

const OUTSIDE_NAMES: Record<Outside, string> = {
  everybody: "Everybody of the workspace",
  owners: "Owners alone",
};

/** For owners: what it is called, and who of it may share with people from outside. */
export function WorkspaceSettings({ name, outside }: { name: string; outside: Outside }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { state, data, formData } = fetcher;
  const send = (fields: Record<string, string>) =>
    void fetcher.submit(fields, { method: "post", action: "/workspace" });
  return (
    <Box sx={{ mt: 4 }}>
      <Folded
        title="This workspace"
        value={`its name; ${outside === "owners" ? "owners share" : "everybody shares"} outside`}
      >
        <RenameForm
          label="Name of the workspace"
          name={name}
          busy={state !== "idle"}
          onRename={(next) => send({ do: "rename", name: next })}
        />
        <Box>
          <SelectField
            label="Who may share with people outside"
            value={(formData?.get("outside") as Outside | null) ?? outside}
            names={OUTSIDE_NAMES}
            onChoose={(value) => send({ do: "outside", outside: value })}
            minWidth={280}
          />
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5, maxWidth: 560 }}>
            With anyone who has a link, and with people by name who do not belong here. What is shared already stays as
            it is.
          </Typography>
        </Box>
        <FormError error={data?.error} />
      </Folded>
    </Box>
  );
}
