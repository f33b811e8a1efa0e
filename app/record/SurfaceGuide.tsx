import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { surfaceFacts } from "#core/media/surfaces";

/** What can be shown, told where it will be seen. @param clear the side on which something else lies */
export function SurfaceGuide({ clear }: { clear: "left" | "right" | null }) {
  return (
    <Box
      component="dl"
      aria-label="What you can show"
      sx={{
        position: "absolute",
        inset: 0,
        m: 0,
        pl: clear === "left" ? "32%" : { xs: 1.5, sm: 3 },
        pr: clear === "right" ? "32%" : { xs: 1.5, sm: 3 },
        display: "grid",
        gap: { xs: 0.5, sm: 2 },
        alignContent: "safe center",
        overflowY: "auto",
      }}
    >
      {surfaceFacts(platformName()).map(({ surface, name, shows, hides, sound }) => (
        <div key={surface}>
          <Typography component="dt" sx={{ fontWeight: 600 }}>
            {name}
          </Typography>
          <Typography component="dd" variant="body2" sx={{ m: 0 }}>
            {shows} {hides} {sound}
          </Typography>
        </div>
      ))}
    </Box>
  );
}

function platformName(): string {
  const { userAgentData, platform } = navigator as Navigator & { userAgentData?: { platform: string } };
  return userAgentData?.platform ?? (platform.startsWith("Win") ? "Windows" : "");
}
