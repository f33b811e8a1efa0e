import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";

interface Props<T extends string> {
  /** what is chosen here */
  label: string;
  all: readonly T[];
  words: Record<T, string>;
  ticked: readonly T[];
  onTick: (ticked: readonly T[]) => void;
}

/** Some of a few things, each with a tick. */
export function Ticks<T extends string>({ label, all, words, ticked, onTick }: Props<T>) {
  const tick = (one: T, is: boolean) => onTick([...ticked.filter((other) => other !== one), ...(is ? [one] : [])]);
  return (
    <Box role="group" aria-label={label} sx={{ display: "flex", flexWrap: "wrap", columnGap: 1 }}>
      {all.map((one) => (
        <FormControlLabel
          key={one}
          control={
            <Checkbox size="small" checked={ticked.includes(one)} onChange={(e) => tick(one, e.target.checked)} />
          }
          label={words[one]}
        />
      ))}
    </Box>
  );
}
