import Mic from "@mui/icons-material/Mic";
import Box from "@mui/material/Box";
import type { TakeSource } from "#core/media/tracks";

/** The poster of a recording, or a blank pane where there is none (yet). Decoration: the title stands beside it. */
export function Poster({ token, has, source }: { token: string; has: boolean; source: TakeSource }) {
  return (
    <Box
      sx={{
        aspectRatio: "16 / 9",
        bgcolor: has && source === "voice" ? "bar.main" : "mist",
        border: "1px solid",
        borderColor: "mist",
        overflow: "hidden",
        display: "grid",
        placeItems: "center",
      }}
    >
      {has ? (
        <Box
          component="img"
          src={`/w/${token}/poster.jpg`}
          alt=""
          loading="lazy"
          sx={{ width: "100%", height: "100%", objectFit: source === "voice" ? "contain" : "cover", display: "block" }}
        />
      ) : source === "voice" ? (
        <Mic aria-hidden sx={{ color: "text.secondary" }} />
      ) : null}
    </Box>
  );
}
