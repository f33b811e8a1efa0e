import Box, { type BoxProps } from "@mui/material/Box";

/**
 * Rounded top, flat foot: half the width as radius on a shape of 1 : 1.15. The same in the player, the recorder and the
 * poster.
 */
export const archRadius = "50% 50% 0 0 / 43.5% 43.5% 0 0";

interface PortraitProps extends BoxProps {
  name: string;
  /** what their picture is called; their initials stand where there is none */
  digest?: string | null;
}

/** A person's portrait in an arch. Decoration only; the name stands beside it or in the label. */
export function Portrait({ name, digest = null, sx = [], ...rest }: PortraitProps) {
  const initials = name
    .split(/\s+/)
    .map((word) => word[0] ?? "")
    .slice(0, 2)
    .join("")
    .toUpperCase();
  return (
    <Box
      aria-hidden
      {...rest}
      sx={[
        {
          width: 30,
          height: 34,
          borderRadius: archRadius,
          bgcolor: "primary.main",
          color: "primary.contrastText",
          display: "grid",
          placeItems: "end center",
          fontSize: 13,
          fontWeight: 600,
          pb: digest ? 0 : "5px",
          overflow: "hidden",
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    >
      {digest ? (
        <img src={`/portraits/${digest}`} alt="" width={30} height={34} style={FILLS} loading="lazy" />
      ) : (
        initials
      )}
    </Box>
  );
}

const FILLS = { width: "100%", height: "100%", objectFit: "cover" } as const;

/** Our mark: a pane with an arch, and the stroke of a nod. */
export function Mark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden>
      <path d="M5 29V14a11 11 0 0 1 22 0v15z" fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M5 17h22M16 3v26" stroke="currentColor" strokeWidth="1" opacity=".55" />
      <path d="M10 19l5 5 8-10" fill="none" stroke="#F0B440" strokeWidth="3.4" />
    </svg>
  );
}
