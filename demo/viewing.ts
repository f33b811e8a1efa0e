import type { Micros } from "../core/time/micros";
import type { Span } from "../core/viewing/watcher";
import type { Habit } from "./scenario";

/** A small generator with a seed of its own, so that the sample is the same every time. */
export function seeded(seed: number): () => number {
  return () => (seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31) / 2 ** 31;
}

/**
 * What somebody of a habit watches of a recording: stretches in the order in which they were played. All times in
 * microseconds.
 */
export function watchedBy(
  habit: Habit,
  length: Micros,
  hard: { from: Micros; to: Micros } | null,
  random: () => number,
): Span[] {
  const span = (from: number, to: number, rate = 1): Span => ({
    from: Math.round(Math.max(0, from)),
    to: Math.round(Math.min(length, to)),
    rate,
  });
  const about = (share: number, spread = 0.06) => length * Math.min(1, Math.max(0, share + (random() - 0.5) * spread));
  const h = hard ?? { from: length * 0.5, to: length * 0.65 };
  const all: Record<Habit, () => Span[]> = {
    whole: () => [span(0, length)],
    fast: () => [span(0, length, 1.75)],
    // Hears the hard part, goes back to its beginning, and some go back once more.
    "twice-the-hard-part": () => [
      span(0, h.to),
      span(h.from, h.to),
      ...(random() < 0.5 ? [span(h.from + (h.to - h.from) / 3, h.to)] : []),
      span(h.to, about(0.985)),
    ],
    // A few seconds of the good morning, then to where it begins, give or take.
    "skips-the-opening": () => [
      span(0, length * (0.03 + random() * 0.06)),
      span(h.from - length * (0.04 + random() * 0.06), length),
    ],
    "leaves-early": () => [span(0, about(0.17, 0.1))],
    "leaves-in-the-middle": () => [span(0, about(0.55, 0.08))],
    "dips-in": () => [span(about(0.2), about(0.35)), span(about(0.6), about(0.72))],
    glances: () => [span(0, 1_200_000 + random() * 500_000)],
  };
  return all[habit]().filter((s) => s.to > s.from);
}
