import Box from "@mui/material/Box";

/** Stands over a page that is looked at as a stranger would find it. */
export function StrangersBar({ token }: { token: string }) {
  return (
    <Box
      role="note"
      sx={{
        bgcolor: "marigold.main",
        color: "marigold.contrastText",
        px: { xs: 1.5, sm: 3 },
        py: 0.75,
        display: "flex",
        gap: 2,
        flexWrap: "wrap",
      }}
    >
      You look at this as a stranger would: without an account, named nowhere.
      <Box component="a" href={`/w/${token}`} sx={{ color: "inherit" }}>
        Back to yourself
      </Box>
    </Box>
  );
}
