import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import type { NoticeTime } from "#core/notices/wishes";
import { TIME_NAMES } from "../components/notice-times";
import { SelectField } from "../components/SelectField";
import { zoneHere } from "../components/zone";

/** For a client of a folder: when they are mailed what is new here. */
export function FolderNews({ news }: { news: NoticeTime }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const now = (fetcher.formData?.get("news") as NoticeTime | undefined) ?? news;
  const choose = (next: NoticeTime) => {
    void fetcher.submit({ do: "news", news: next, zone: zoneHere() }, { method: "post" });
  };
  const { state, data } = fetcher;
  return (
    <Box
      component="section"
      aria-label="Mail about what is new"
      sx={{ px: { xs: 1.5, sm: 0 }, py: 2, display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}
    >
      <SelectField label="Mail me what is new here" value={now} names={TIME_NAMES} onChoose={choose} minWidth={240} />
      {data?.error && (
        <Typography role="alert" color="error">
          {data.error}
        </Typography>
      )}
      {state === "idle" && data?.error === null && <Typography role="status">Kept.</Typography>}
    </Box>
  );
}
