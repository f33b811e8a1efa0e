import Box from "@mui/material/Box";
import type { Micros } from "#core/time/micros";
import type { RangeSet } from "#core/time/ranges";

/** What one person has seen along the length, and in full height what they played again. */
export function SeenStrip({
  seen,
  again,
  length,
  label,
}: {
  seen: RangeSet;
  again: RangeSet;
  length: Micros;
  label: string;
}) {
  const share = (at: Micros) => Math.round((10_000 * at) / length) / 100;
  // One path for all stretches: a busy table has thousands of them.
  const bars = (ranges: RangeSet, top: number) =>
    ranges
      .map(
        (r) => `M${share(r.from)} ${top}h${Math.max(0.4, share(r.to) - share(r.from)).toFixed(2)}V10H${share(r.from)}z`,
      )
      .join("");
  return (
    <Box sx={{ border: "1px solid", borderColor: "mist", height: 16, minWidth: 90 }}>
      <svg
        role="img"
        aria-label={label}
        width="100%"
        height="100%"
        viewBox="0 0 100 10"
        preserveAspectRatio="none"
        style={{ display: "block" }}
      >
        {length > 0 && <path d={bars(seen, 4)} fill="var(--mui-palette-primary-main)" />}
        {length > 0 && <path d={bars(again, 0)} fill="var(--mui-palette-marigold-main)" />}
      </svg>
    </Box>
  );
}

/** A small trend: one bar for each day. */
export function Trend({ values, label }: { values: number[]; label: string }) {
  const most = Math.max(1, ...values);
  return (
    <svg role="img" aria-label={label} width={values.length * 5} height={22} style={{ display: "block" }}>
      {values.map((v, i) => (
        <rect
          key={i}
          x={i * 5}
          width={4}
          y={22 - Math.max(1, (20 * v) / most)}
          height={Math.max(1, (20 * v) / most)}
          fill={v > 0 ? "var(--mui-palette-primary-main)" : "var(--mui-palette-mist)"}
        />
      ))}
    </svg>
  );
}
