import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { archRadius } from "./Arch";

/** A whole view that has nothing else to show: empty, failed, gone. Always with a next step. */
export function Notice({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <Box component="section" sx={{ maxWidth: 560, mx: "auto", px: 2, py: { xs: 6, md: 10 } }}>
      <Box
        aria-hidden
        sx={{
          width: 56,
          height: 64,
          borderRadius: archRadius,
          border: "1px solid",
          borderColor: "text.secondary",
          mb: 3,
          position: "relative",
        }}
      >
        <Box
          sx={{ position: "absolute", left: "50%", top: 0, bottom: 0, borderLeft: "1px solid", borderColor: "mist" }}
        />
        <Box
          sx={{ position: "absolute", top: "45%", left: 0, right: 0, borderTop: "1px solid", borderColor: "mist" }}
        />
      </Box>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {title}
      </Typography>
      <Typography sx={{ mb: 3 }}>{children}</Typography>
      {action}
    </Box>
  );
}
