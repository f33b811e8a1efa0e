import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { Portrait } from "../components/Arch";
import { Folded } from "../components/Folded";
import { PictureButton } from "../components/PictureButton";

const LARGE = { width: 104, height: 120, fontSize: 40, pb: "18px", flexShrink: 0 };
const CameraStill = lazy(() => import("./CameraStill"));

/** What stands for somebody beside their words: a file, or a still of their camera. */
export function PortraitFold({ name, digest }: { name: string; digest: string | null }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { revalidate } = useRevalidator();
  const [camera, setCamera] = useState(false);
  return (
    <Folded title="Portrait" value={digest ? "a picture" : "your initials"}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
        <Portrait name={name} digest={digest} sx={LARGE} />
        <Box sx={{ display: "grid", gap: 1.5, justifyItems: "start", flex: "1 1 260px" }}>
          <Typography>It stands beside what you say at links, and in the list of people.</Typography>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
            <PictureButton to="/portraits/new" label="Choose a picture" onTaken={() => void revalidate()} />
            {!camera && (
              <Button size="small" variant="outlined" onClick={() => setCamera(true)}>
                Take one with the camera
              </Button>
            )}
            {digest && (
              <Button
                size="small"
                disabled={fetcher.state !== "idle"}
                onClick={() => void fetcher.submit({ do: "no-portrait" }, { method: "post" })}
              >
                Take it off
              </Button>
            )}
          </Box>
        </Box>
      </Box>
      {camera && (
        <Suspense>
          <CameraStill onTaken={() => void revalidate()} onClose={() => setCamera(false)} />
        </Suspense>
      )}
    </Folded>
  );
}
