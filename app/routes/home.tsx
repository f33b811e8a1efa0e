import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { redirect } from "react-router";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/home";

export function loader({ context }: Route.LoaderArgs) {
  if (context.get(appContext).member) throw redirect("/library");
  return null;
}

export default function Home() {
  return (
    <Box sx={{ maxWidth: 720, mx: "auto", px: 2, py: { xs: 6, md: 12 } }}>
      <Typography variant="h1" sx={{ fontSize: { xs: "2.2rem", md: "3rem" }, mb: 2 }}>
        Show it once. Know who understood.
      </Typography>
      <Typography sx={{ mb: 4, fontSize: "1.15rem", maxWidth: "34em" }}>
        Record your screen and yourself for a minute or two, hand over one link, and get a clear nod back, or the moment
        that was not clear yet. The link plays as soon as you stop.
      </Typography>
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
        <Button variant="contained" size="large" href="/sign-up">
          Start a workspace
        </Button>
        <Button variant="outlined" size="large" href="/sign-in">
          Sign in
        </Button>
      </Box>
    </Box>
  );
}
