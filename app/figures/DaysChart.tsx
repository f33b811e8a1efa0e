import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { BarElement, CategoryScale, Chart, LinearScale, Tooltip } from "chart.js";
import dayjs from "dayjs";
import { Bar } from "react-chartjs-2";
import type { FiguresRow } from "#server/viewing/figures";
import { useChartColors } from "./colors";

Chart.register(LinearScale, CategoryScale, BarElement, Tooltip);

/** How many people came for the first time on each of the last days, over all recordings. */
export function DaysChart({ rows }: { rows: FiguresRow[] }) {
  const colors = useChartColors();
  const days = rows[0]?.trend.length ?? 0;
  const sums = Array.from({ length: days }, (_, i) => rows.reduce((sum, r) => sum + (r.trend[i] ?? 0), 0));
  const total = sums.reduce((a, b) => a + b, 0);
  return (
    <Box component="section" aria-label="Over time">
      <Typography variant="h2" sx={{ mb: 1 }}>
        New viewers in the last three weeks: {total}
      </Typography>
      <Box sx={{ height: 120, position: "relative", overflow: "hidden" }}>
        {colors && (
          <Bar
            role="img"
            aria-label={`New viewers a day, oldest first: ${sums.join(", ")}`}
            data={{
              labels: sums.map((_, i) =>
                dayjs()
                  .subtract(days - 1 - i, "day")
                  .format("D MMM"),
              ),
              datasets: [{ label: "New viewers", data: sums, backgroundColor: colors.leaf }],
            }}
            options={{
              animation: false,
              maintainAspectRatio: false,
              scales: {
                x: {
                  ticks: { color: colors.soft, font: { family: colors.font }, maxRotation: 0, autoSkipPadding: 24 },
                  grid: { display: false },
                },
                y: {
                  beginAtZero: true,
                  ticks: { color: colors.soft, font: { family: colors.font }, precision: 0, maxTicksLimit: 4 },
                  grid: { color: colors.mist },
                },
              },
            }}
          />
        )}
      </Box>
    </Box>
  );
}
