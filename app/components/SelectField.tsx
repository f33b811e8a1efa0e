import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface Props<T extends string> {
  label: string;
  /** one of `names`, or empty while nothing is chosen */
  value: T | "";
  /** what can be chosen, in its order, with the words for it */
  names: Partial<Record<T, string>>;
  onChoose: (value: T) => void;
  disabled?: boolean;
  minWidth?: number;
}

/** One of a few, by name. */
export function SelectField<T extends string>({ label, value, names, onChoose, disabled, minWidth }: Props<T>) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(e) => onChoose(e.target.value as T)}
      disabled={disabled}
      sx={{ minWidth }}
    >
      {(Object.entries(names) as [T, string][]).map(([one, name]) => (
        <MenuItem key={one} value={one}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
