import type { Page } from "@playwright/test";

/** In the page and in its workers: what the collector has not come to yet says nothing. */
export async function collectGarbage(page: Page): Promise<void> {
  const collect = () => (globalThis as unknown as { gc(): void }).gc();
  await Promise.all([page.evaluate(collect), ...page.workers().map((worker) => worker.evaluate(collect))]);
}

/** The rise of a line through points (least squares), in MB a second. */
export function slope(points: { at: number; megabytes: number }[]): number {
  const mean = (pick: (p: (typeof points)[number]) => number) =>
    points.reduce((sum, p) => sum + pick(p), 0) / points.length;
  const [x, y] = [mean((p) => p.at), mean((p) => p.megabytes)];
  const over = points.reduce((sum, p) => sum + (p.at - x) * (p.megabytes - y), 0);
  return over / points.reduce((sum, p) => sum + (p.at - x) ** 2, 0);
}
