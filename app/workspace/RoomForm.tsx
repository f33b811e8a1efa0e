import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useFetcher } from "react-router";
import { SECOND, spokenLength } from "#core/time/micros";
import { LONGEST_MINUTES, STORAGE_GIGABYTES, type Room } from "#server/desk/room";
import { SelectField } from "../components/SelectField";
import { saidBytes } from "../components/saidBytes";

const MINUTES = Object.fromEntries(
  LONGEST_MINUTES.map((m) => [m, m === 0 ? "As long as they like" : spokenLength(m * 60 * SECOND)]),
) as Record<string, string>;
const GIGABYTES = Object.fromEntries(
  STORAGE_GIGABYTES.map((g) => [g, g === 0 ? "As much as the server has" : saidBytes(g * 1e9)]),
) as Record<string, string>;

/** How long and how much may be recorded here: everybody sees it, owners set it. */
export function RoomForm({ room, manages, children }: { room: Room; manages: boolean; children: ReactNode }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const minutes = String(room.longestUs === null ? 0 : room.longestUs / (60 * SECOND));
  const gigabytes = String(room.most === null ? 0 : room.most / 1e9);
  const set = (change: Partial<Record<"minutes" | "gigabytes", string>>) =>
    void fetcher.submit({ do: "room", minutes, gigabytes, ...change }, { method: "post", action: "/workspace" });
  return (
    <Box component="section" aria-labelledby="room" sx={{ mt: 4 }}>
      <Typography variant="h2" id="room" sx={{ mb: 1 }}>
        Room
      </Typography>
      <Typography sx={{ mb: 1.5 }}>
        {saidBytes(room.used)} are recorded{room.most !== null && ` of ${saidBytes(room.most)}`}, with what was deleted
        and can still be restored.
        {!manages && room.longestUs !== null && ` A take lasts ${spokenLength(room.longestUs)} at the most.`}
      </Typography>
      {manages && (
        <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
          <SelectField
            label="Longest take"
            value={fetcher.formData ? String(fetcher.formData.get("minutes")) : minutes}
            names={MINUTES}
            onChoose={(next) => set({ minutes: next })}
            minWidth={240}
          />
          <SelectField
            label="All recordings together"
            value={fetcher.formData ? String(fetcher.formData.get("gigabytes")) : gigabytes}
            names={GIGABYTES}
            onChoose={(next) => set({ gigabytes: next })}
            minWidth={240}
          />
        </Box>
      )}
      {fetcher.data?.error && (
        <Typography role="alert" color="error">
          {fetcher.data.error}
        </Typography>
      )}
      {children}
    </Box>
  );
}
