import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { DESCRIPTION_MAX, MOST_TAGS, TAG_MAX, tidyTags, type About } from "#core/title/about";

/** The fields for what a recording is about, besides its title. */
export function AboutFields({ about, onChange }: { about: About; onChange: (about: About) => void }) {
  return (
    <>
      <TextField
        size="small"
        label="Description"
        value={about.description}
        multiline
        maxRows={6}
        onChange={(e) => onChange({ ...about, description: e.target.value })}
        slotProps={{ htmlInput: { maxLength: DESCRIPTION_MAX } }}
      />
      <Autocomplete
        multiple
        freeSolo
        autoSelect
        size="small"
        options={[] as string[]}
        value={about.tags}
        onChange={(_, tags) => onChange({ ...about, tags: tidyTags(tags) })}
        renderInput={(params) => (
          <TextField
            {...params}
            label="Tags"
            helperText={`Enter after each, ${MOST_TAGS} at the most`}
            inputProps={{ ...params.inputProps, maxLength: TAG_MAX }}
          />
        )}
      />
    </>
  );
}
