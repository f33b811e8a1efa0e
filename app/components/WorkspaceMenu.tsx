import Check from "@mui/icons-material/Check";
import People from "@mui/icons-material/People";
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { Link, useSubmit } from "react-router";

export interface WorkspaceChoice {
  /** the one that is looked at */
  workspaceId: string;
  workspaces: { id: string; name: string }[];
}

/** Which workspace one is in, the way to its people, and to the others one belongs to. */
export function WorkspaceMenu({ workspaceId, workspaces }: WorkspaceChoice) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const submit = useSubmit();
  const close = () => setAnchor(null);
  const choose = (workspace: string) => {
    close();
    if (workspace !== workspaceId) void submit({ do: "choose", workspace }, { method: "post", action: "/workspace" });
  };
  const name = workspaces.find((w) => w.id === workspaceId)?.name ?? "";
  return (
    <>
      <ButtonBase
        aria-label={`${name}, workspace`}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ color: "inherit", p: 0.75, minWidth: 0 }}
      >
        <Box
          component="span"
          sx={{
            display: { xs: "none", lg: "inline" },
            overflow: "hidden",
            textOverflow: "ellipsis",
            whiteSpace: "nowrap",
            maxWidth: 220,
          }}
        >
          {name}
        </Box>
        <People fontSize="small" aria-hidden sx={{ display: { lg: "none" } }} />
      </ButtonBase>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {workspaces.map(({ id, name }) => (
          <MenuItem key={id} role="menuitemradio" aria-checked={id === workspaceId} onClick={() => choose(id)}>
            <Check
              fontSize="small"
              aria-hidden
              sx={{ mr: 1.5, visibility: id === workspaceId ? "visible" : "hidden" }}
            />
            {name}
          </MenuItem>
        ))}
        <MenuItem
          component={Link}
          to="/workspace"
          onClick={close}
          sx={{ borderTop: "1px solid", borderColor: "mist", mt: 1, pt: 1.25 }}
        >
          <People fontSize="small" aria-hidden sx={{ mr: 1.5 }} /> People and links to join
        </MenuItem>
      </Menu>
    </>
  );
}
