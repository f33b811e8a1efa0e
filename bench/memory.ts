/** The rise of a line through points (least squares), in MB a second. */
export function slope(points: { at: number; megabytes: number }[]): number {
  const mean = (pick: (p: (typeof points)[number]) => number) =>
    points.reduce((sum, p) => sum + pick(p), 0) / points.length;
  const [x, y] = [mean((p) => p.at), mean((p) => p.megabytes)];
  const over = points.reduce((sum, p) => sum + (p.at - x) * (p.megabytes - y), 0);
  return over / points.reduce((sum, p) => sum + (p.at - x) ** 2, 0);
}
