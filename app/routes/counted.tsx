import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { DEFINITIONS } from "#core/viewing/definitions";
import type { Route } from "./+types/counted";

export const meta: Route.MetaFunction = () => [{ title: "How viewing is counted · Clear Nod" }];

/**
 * The definitions by which the code counts, word for word. Open to everybody: viewers too may know what is said of
 * them.
 */
export default function Counted() {
  return (
    <Box sx={{ maxWidth: 760, mx: "auto", px: 2, py: { xs: 3, md: 5 } }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        How viewing is counted
      </Typography>
      <Typography sx={{ mb: 3 }}>
        The player reports the stretches that were really played, with their speed. Everything else follows from them.
        The words and thresholds are those of the xAPI video profile where it has them.
      </Typography>
      <Box component="dl" sx={{ m: 0, borderTop: "1px solid", borderColor: "mist" }}>
        {DEFINITIONS.map(({ term, means }) => (
          <Box
            key={term}
            sx={{
              display: "grid",
              gridTemplateColumns: { xs: "1fr", sm: "180px 1fr" },
              columnGap: 3,
              py: 1.25,
              borderBottom: "1px solid",
              borderColor: "mist",
            }}
          >
            <Typography component="dt" sx={{ fontWeight: 600 }}>
              {term}
            </Typography>
            <Typography component="dd" sx={{ m: 0 }}>
              {means}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
