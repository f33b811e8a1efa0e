import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import { KEPT_DAYS } from "#core/access/access";
import { MOST_GOING, TOLD_DAYS_BEFORE, UNUSED_DAYS, type UnusedDays } from "#core/retention/retention";
import { FormError } from "../components/FormError";
import { SelectField } from "../components/SelectField";

const AFTER: Record<UnusedDays, string> = {
  0: "",
  90: "three months",
  180: "half a year",
  365: "a year",
  730: "two years",
  1825: "five years",
};
const key = (days: number) => `d${days}`;
/** A letter before the days: names that are numbers would be put in another order. */
const NAMES: Record<string, string> = Object.fromEntries(
  UNUSED_DAYS.map((days) => [key(days), days === 0 ? "Stay for good" : `Go after ${AFTER[days]}`]),
);

interface Props {
  /** null for never */
  days: number | null;
  /** how many go next */
  going: number;
  manages: boolean;
}

/** When recordings that nobody uses are deleted: everybody is told, owners choose. */
export function UnusedForm({ days, going, manages }: Props) {
  const fetcher = useFetcher<{ error: string | null }>();
  const after = AFTER[(days ?? 0) as UnusedDays];
  if (!manages && days === null) return null;
  return (
    <Box sx={{ mt: 2 }}>
      {manages && (
        <SelectField
          label="Recordings that nobody uses"
          value={(fetcher.formData && key(Number(fetcher.formData.get("days")))) ?? key(days ?? 0)}
          names={NAMES}
          onChoose={(next) =>
            void fetcher.submit({ do: "unused", days: next.slice(1) }, { method: "post", action: "/workspace" })
          }
          minWidth={280}
        />
      )}
      {days !== null && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5, maxWidth: 640 }}>
          What nobody opens or changes for {after} is deleted. Whoever sent it is told {TOLD_DAYS_BEFORE} days before
          and can let it stay; afterwards it can be restored for {KEPT_DAYS} days.
        </Typography>
      )}
      {going > 0 && (
        <Typography sx={{ mt: 1 }}>
          {going > MOST_GOING
            ? `Over ${MOST_GOING.toLocaleString("en-GB")} recordings go`
            : going === 1
              ? "One recording goes"
              : `${going} recordings go`}{" "}
          within {TOLD_DAYS_BEFORE + 1} days, and {going === 1 ? "its sender is" : "their senders are"} told.
        </Typography>
      )}
      <FormError error={fetcher.data?.error} />
    </Box>
  );
}
