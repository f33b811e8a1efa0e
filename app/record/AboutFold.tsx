import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { TITLE_MAX } from "#core/title/title";
import { AboutFields } from "../components/AboutFields";
import { Folded } from "../components/Folded";
import type { AboutDraft } from "./useAbout";

/** What the recording is about: before it starts, and while it runs. @param without where its title comes from else */
export function AboutFold({ draft, without }: { draft: AboutDraft; without: string }) {
  const { about, write, keep, problem } = draft;
  const parts = [about.title.trim() || without, about.description.trim() && "a description", about.tags.join(", ")];
  return (
    <Folded title="About it" value={parts.filter(Boolean).join(", ")}>
      <Box sx={{ display: "grid", gap: 2 }} onBlur={keep}>
        <TextField
          size="small"
          label="Title"
          value={about.title}
          onChange={(e) => write({ ...about, title: e.target.value })}
          slotProps={{ htmlInput: { maxLength: TITLE_MAX } }}
        />
        <AboutFields about={about} onChange={(next) => write({ ...about, ...next })} />
        {problem && <Alert severity="error">This was not kept: {problem}</Alert>}
      </Box>
    </Folded>
  );
}
