import Box from "@mui/material/Box";
import { CategoryScale, Chart, Filler, Legend, LinearScale, LineElement, PointElement, Tooltip } from "chart.js";
import { Line } from "react-chartjs-2";
import { formatClock, type Micros } from "#core/time/micros";
import type { CurvePoint } from "#core/viewing/figures";
import { useChartColors } from "./colors";
import { percent } from "./percent";

Chart.register(LinearScale, CategoryScale, LineElement, PointElement, Filler, Tooltip, Legend);

/**
 * Who was still there, and what was played again, along the length: edge to edge, so that the lanes under it share its
 * axis.
 */
export function CurveChart({ curve, length }: { curve: CurvePoint[]; length: Micros }) {
  const colors = useChartColors();
  const most = Math.max(1, ...curve.map((p) => Math.max(p.there, p.again)));
  const ends =
    curve.length > 0
      ? `${percent(curve[0]!.there)} at the start, ${percent(curve.at(-1)!.there)} at the end`
      : "nobody yet";
  return (
    <Box sx={{ height: 220, position: "relative", overflow: "hidden" }}>
      {colors && (
        <Line
          role="img"
          aria-label={`Who was still there: ${ends}. Played again most: ${percent(Math.max(0, ...curve.map((p) => p.again)))} of those who watched.`}
          data={{
            datasets: [
              {
                label: "Still there",
                data: curve.map((p) => ({ x: p.at, y: p.there })),
                borderColor: colors.leaf,
                backgroundColor: `${colors.leaf}33`,
                fill: true,
                borderWidth: 2,
                pointRadius: 0,
                stepped: "middle",
              },
              {
                label: "Played again",
                data: curve.map((p) => ({ x: p.at, y: p.again })),
                borderColor: colors.marigold,
                borderDash: [5, 3],
                borderWidth: 2,
                pointRadius: 0,
                stepped: "middle",
              },
            ],
          }}
          options={{
            animation: false,
            maintainAspectRatio: false,
            layout: { autoPadding: false },
            interaction: { mode: "index", intersect: false },
            scales: {
              x: { type: "linear", min: 0, max: length, display: false },
              y: {
                min: 0,
                max: Math.ceil(most * 4) / 4,
                afterFit: (axis) => (axis.width = 0),
                ticks: {
                  mirror: true,
                  color: colors.soft,
                  font: { family: colors.font },
                  callback: (v) => percent(Number(v)),
                  z: 1,
                  maxTicksLimit: 5,
                  showLabelBackdrop: true,
                  backdropColor: colors.pane,
                },
                grid: { color: colors.mist },
                border: { display: false },
              },
            },
            plugins: {
              legend: {
                align: "start",
                labels: { color: colors.ink, font: { family: colors.font }, boxHeight: 2, boxWidth: 26 },
              },
              tooltip: {
                callbacks: {
                  title: ([item]) => formatClock(Number(item?.parsed.x ?? 0)),
                  label: (item) => `${item.dataset.label}: ${percent(item.parsed.y ?? 0)}`,
                },
              },
            },
          }}
        />
      )}
    </Box>
  );
}
