import Logout from "@mui/icons-material/Logout";
import ManageAccounts from "@mui/icons-material/ManageAccounts";
import Search from "@mui/icons-material/Search";
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import InputBase from "@mui/material/InputBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Form, Link, NavLink, useLocation, useSearchParams, useSubmit } from "react-router";
import type { Brand } from "#server/workspaces/brands";
import { BAR } from "../brand/BrandStyles";
import { EmblemPicture } from "../brand/EmblemPicture";
import { Mark, Portrait } from "./Arch";
import { WorkspaceMenu, type WorkspaceChoice } from "./WorkspaceMenu";

export interface Person extends WorkspaceChoice {
  id: string;
  name: string;
  email: string;
  portrait: string | null;
}

const PLACES = [
  { to: "/record", name: "Record" },
  { to: "/library", name: "Library" },
  { to: "/answers", name: "Answers" },
  { to: "/figures", name: "Figures" },
];

const place = {
  color: "inherit",
  textDecoration: "none",
  px: { xs: 0.75, sm: 1.5 },
  fontSize: { xs: "0.92rem", sm: "1rem" },
  height: 56,
  display: "inline-flex",
  alignItems: "center",
  borderBottom: "3px solid transparent",
  borderTop: "3px solid transparent",
  "&.active": { borderBottomColor: "marigold.main", fontWeight: 600 },
  "&:hover": { bgcolor: "rgba(255,255,255,.08)" },
};

interface Props {
  person: Person | null;
  unread?: number;
  /** of the workspace whose link this is; those who are signed in have their own places */
  brand?: Brand | null;
}

/** The one bar: our mark, or that of whose link it is; the places, the search, the person. */
export function TopBar({ person, unread = 0, brand = null }: Props) {
  const [query] = useSearchParams();
  const emblem = person ? null : brand?.emblem;
  return (
    <Box
      component="header"
      sx={{
        ...BAR,
        display: "flex",
        alignItems: "center",
        gap: { xs: 0.5, sm: 2 },
        px: { xs: 1, sm: 3 },
        height: 56,
      }}
    >
      <Box
        component={Link}
        to="/"
        aria-label="Clear Nod, start"
        sx={{ ...place, fontFamily: "h2.fontFamily", gap: 1, px: 0.5, "&:hover": {} }}
      >
        {emblem ? <EmblemPicture emblem={emblem} name={brand!.name} /> : <Mark />}
        <Typography
          component="span"
          variant={emblem ? "body2" : "h2"}
          sx={{
            display: { xs: "none", sm: "inline" },
            whiteSpace: "nowrap",
            ...(emblem && { borderLeft: "1px solid", pl: 1.5, ml: 0.5 }),
          }}
        >
          Clear Nod
        </Typography>
      </Box>
      {person && (
        <>
          <Box component="nav" aria-label="Places" sx={{ display: "flex" }}>
            {PLACES.map(({ to, name }) => (
              <Box key={to} component={NavLink} to={to} sx={place}>
                {name}
                {to === "/answers" && unread > 0 && (
                  <Box
                    component="span"
                    aria-label={`${unread} new`}
                    sx={{
                      ml: 0.75,
                      px: 0.75,
                      bgcolor: "marigold.main",
                      color: "marigold.contrastText",
                      borderRadius: "50% 50% 0 0 / 60% 60% 0 0",
                      fontSize: 13,
                      fontWeight: 600,
                      minWidth: 20,
                      textAlign: "center",
                    }}
                  >
                    {unread > 99 ? "99+" : unread}
                  </Box>
                )}
              </Box>
            ))}
          </Box>
          <Box
            component={Form}
            role="search"
            action="/library"
            sx={{
              display: { xs: "none", md: "flex" },
              alignItems: "center",
              flex: 1,
              maxWidth: 440,
              mx: "auto",
              borderBottom: "1px solid",
              borderColor: "rgba(247,245,239,.5)",
            }}
          >
            <Search fontSize="small" aria-hidden />
            <InputBase
              key={query.get("q")}
              name="q"
              defaultValue={query.get("q") ?? ""}
              placeholder="Search titles"
              inputProps={{ "aria-label": "Search titles", maxLength: 160 }}
              sx={{ color: "inherit", flex: 1, ml: 1, "& input::placeholder": { color: "inherit", opacity: 0.8 } }}
            />
          </Box>
        </>
      )}
      <Box sx={{ ml: "auto", display: "flex", alignItems: "center", gap: { xs: 0, sm: 1.5 }, minWidth: 0 }}>
        {person && <WorkspaceMenu {...person} />}
        {person ? <PersonMenu person={person} /> : <Guest />}
      </Box>
    </Box>
  );
}

function Guest() {
  const { pathname } = useLocation();
  // Who was looking at something comes back to it.
  const back = pathname === "/" || pathname.startsWith("/sign-") ? "" : `?to=${encodeURIComponent(pathname)}`;
  return (
    <Box component={Link} to={`/sign-in${back}`} sx={place}>
      Sign in
    </Box>
  );
}

function PersonMenu({ person }: { person: Person }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const submit = useSubmit();
  return (
    <>
      <ButtonBase
        aria-label={`${person.name}, account`}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ gap: 1, color: "inherit", p: 0.5 }}
      >
        <Portrait name={person.name} digest={person.portrait} />
      </ButtonBase>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <Box component="li" sx={{ px: 2, pb: 1, borderBottom: "1px solid", borderColor: "mist", mb: 1 }}>
          <Typography sx={{ fontWeight: 600 }}>{person.name}</Typography>
          <Typography variant="body2" color="text.secondary">
            {person.email}
          </Typography>
        </Box>
        <MenuItem component={Link} to="/account" onClick={() => setAnchor(null)}>
          <ManageAccounts fontSize="small" sx={{ mr: 1.5 }} aria-hidden /> Your account
        </MenuItem>
        <MenuItem onClick={() => submit(null, { method: "post", action: "/sign-out" })}>
          <Logout fontSize="small" sx={{ mr: 1.5 }} aria-hidden /> Sign out
        </MenuItem>
      </Menu>
    </>
  );
}
