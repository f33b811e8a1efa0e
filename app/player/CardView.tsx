import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { Card } from "#core/layout/card";
import { CARD_BOX, CARD_LOOKS, type CardLook } from "#core/layout/card-look";

/** Words in place of the picture, in a frame of any size: everything is as large as its box. */
export function CardView({ card, live = false }: { card: Card; live?: boolean }) {
  const { style, title, name, date, next, url } = card;
  const { ground, ink, paths } = CARD_LOOKS[style];
  return (
    <Box
      data-testid="card"
      sx={{ position: "absolute", inset: 0, zIndex: 2, bgcolor: ground, color: ink, containerType: "size" }}
    >
      <Decoration paths={paths} />
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

const Decoration = ({ paths }: Pick<CardLook, "paths">) => (
  <svg
    viewBox={`0 0 ${CARD_BOX.width} ${CARD_BOX.height}`}
    preserveAspectRatio="none"
    fill="none"
    aria-hidden
    style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
  >
    {paths.map(({ d, fill, stroke, width }) => (
      <path key={d} d={d} fill={fill} stroke={stroke} strokeWidth={width} />
    ))}
  </svg>
);
