import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { FOLDER_NAME_MAX, type WishedFolder } from "#core/desk/wishes";
import { Folded } from "../components/Folded";
import { pathOf, useFolders } from "../folders/useFolders";

interface Props {
  folder: WishedFolder | null;
  /** of which folders are offered */
  workspace: string;
  onFolder: (folder: WishedFolder | null) => void;
}

/** Where the recording is to lie. */
export function FolderFold(props: Props) {
  return (
    <Folded title="Folder" value={props.folder?.name ?? "none"} later>
      <FolderField {...props} />
    </Folded>
  );
}

function FolderField({ folder, workspace, onFolder }: Props) {
  const { found, busy, setQ } = useFolders();
  const offered = found.map((one) => ({ id: one.id, name: pathOf(one).slice(0, FOLDER_NAME_MAX), workspace }));
  return (
    <Autocomplete
      size="small"
      options={offered}
      value={folder}
      loading={busy}
      loadingText="Looking for folders"
      noOptionsText="No folder of that name."
      getOptionLabel={({ name }) => name}
      getOptionKey={({ id }) => id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      onChange={(_, next) => onFolder(next)}
      onInputChange={(_, words, reason) => setQ(reason === "input" ? words : "")}
      renderInput={(params) => (
        <TextField {...params} label="Put it into" helperText="Its people are told when all of it is there." />
      )}
    />
  );
}
