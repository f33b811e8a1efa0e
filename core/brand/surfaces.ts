/** What words stand on, and the colours that are ours whatever else is chosen. `#rrggbb`, by scheme. */
export const SURFACES = {
  light: { papers: ["#F7F5EF", "#FFFFFF"], onAccent: "#FFFFFF", onBar: "#F7F5EF", focus: "#C98500" },
  dark: { papers: ["#0F1C19", "#162823"], onAccent: "#0F1C19", onBar: "#E9EFEA", focus: "#F0B440" },
} as const;
