import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { Card, CardStyle } from "#core/layout/card";
import { OUTLINE } from "#core/layout/mark";

/** Words in place of the picture, in a frame of any size: everything is as large as its box. */
export function CardView({ card, live = false }: { card: Card; live?: boolean }) {
  const { style, title, name, date, next, url } = card;
  const { ground, ink, Decoration } = STYLES[style];
  return (
    <Box
      data-testid="card"
      sx={{ position: "absolute", inset: 0, zIndex: 2, bgcolor: ground, color: ink, containerType: "size" }}
    >
      <Decoration />
      <Box
        sx={{
          position: "absolute",
          inset: "14% 9%",
          display: "flex",
          flexDirection: "column",
          justifyContent: "center",
          gap: "2.4cqh",
          fontSize: "max(12px, 4.2cqh)",
          lineHeight: 1.35,
          overflowWrap: "anywhere",
          "& p": { m: 0 },
        }}
      >
        {title && (
          <Box component="p" sx={{ typography: "h1", fontSize: "max(20px, 8.4cqh)", color: "inherit" }}>
            {title}
          </Box>
        )}
        {(name || date) && <p>{[name, date].filter(Boolean).join(", ")}</p>}
        {next && (
          <Box component="p" sx={{ fontWeight: 600 }}>
            {url && live ? (
              <Link href={url} color="inherit" rel="noopener noreferrer" target="_blank">
                {next}
              </Link>
            ) : (
              next
            )}
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** A roof of panes, as over a bench; an arch to the side; or two lines. */
const STYLES: Record<CardStyle, { ground: string; ink: string; Decoration: () => React.ReactNode }> = {
  panes: {
    ground: "#16302B",
    ink: OUTLINE.inner,
    Decoration: () => (
      <Drawing>
        {Array.from({ length: 9 }, (_, i) => (
          <path key={i} d={`M${i * 20} 0L${80 + (i * 20 - 80) * 0.55} 11`} stroke="#6FC79D" strokeWidth=".5" />
        ))}
        <path d="M0 11H160M0 5.5H160" stroke="#6FC79D" strokeWidth=".5" />
      </Drawing>
    ),
  },
  arch: {
    ground: "#F7F5EF",
    ink: "#16302B",
    Decoration: () => (
      <Drawing>
        <path d="M110 90V46a20 20 0 0 1 40 0V90Z" fill="#2F7D5B" />
        <path d="M117 90V47a13 13 0 0 1 26 0V90Z" fill="#F5C767" />
      </Drawing>
    ),
  },
  lines: {
    ground: "#F7F5EF",
    ink: "#16302B",
    Decoration: () => (
      <Drawing>
        <path d="M14 11H146M14 79H146" stroke="#B4502D" strokeWidth=".8" />
      </Drawing>
    ),
  },
};

const Drawing = ({ children }: { children: React.ReactNode }) => (
  <svg
    viewBox="0 0 160 90"
    preserveAspectRatio="none"
    fill="none"
    aria-hidden
    style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
  >
    {children}
  </svg>
);
