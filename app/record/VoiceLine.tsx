import { FLOOR } from "#core/audio/level";
import { LEVELS_A_SECOND } from "#core/audio/pauses";
import type { Remembered } from "#core/audio/voice-memory";
import type { ShownLine } from "#core/recipe/shown-line";
import { SECOND, type Micros } from "#core/time/micros";

const BARS = 160;

interface Props {
  voice: Remembered;
  line: ShownLine;
  /** what is drawn, and the moment that is chosen, in shown time */
  from: Micros;
  to: Micros;
  at: Micros;
}

/** How loud it was along a stretch; what comes after the moment that is chosen is pale. */
export function VoiceLine({ voice, line, from, to, at }: Props) {
  const step = Math.max(1, to - from) / BARS;
  const loudest = (begins: Micros) => {
    const source = line.toSource(begins) - voice.from;
    const first = Math.max(0, Math.floor((source / SECOND) * LEVELS_A_SECOND));
    const count = Math.max(1, Math.round((step / SECOND) * LEVELS_A_SECOND));
    return Math.max(FLOOR, ...voice.levels.subarray(first, first + count));
  };
  const bar = (n: number) => {
    const height = Math.max(0.02, 1 - loudest(from + n * step) / FLOOR);
    return `M${n + 0.5} ${(1 - height) / 2}v${height}`;
  };
  const bars = Array.from({ length: BARS }, (_, n) => bar(n));
  const chosen = Math.round((at - from) / step);
  return (
    <svg viewBox={`0 0 ${BARS} 1`} preserveAspectRatio="none" aria-hidden style={{ width: "100%", height: 36 }}>
      <path d={bars.slice(0, chosen).join("")} stroke="var(--mui-palette-primary-main)" strokeWidth={0.6} />
      <path d={bars.slice(chosen).join("")} stroke="var(--mui-palette-mist)" strokeWidth={0.6} />
    </svg>
  );
}
