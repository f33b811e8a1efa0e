import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";

/** How loud the sound of what is shown is recorded. */
export function SoundLevel({ level, onLevel }: { level: number; onLevel: (level: number) => void }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 2 }}>
      <Typography component="span" id="sound-level" sx={{ whiteSpace: "nowrap" }}>
        Computer sound
      </Typography>
      <Slider
        aria-labelledby="sound-level"
        value={level}
        step={5}
        onChange={(_, next) => onLevel(next as number)}
        sx={{ flex: 1 }}
      />
      <Typography component="span" className="clock" sx={{ width: 48, textAlign: "right" }}>
        {level} %
      </Typography>
    </Box>
  );
}
