import { useEffect, useState } from "react";
import type { LevelMeter } from "#capture/level-meter";
import { FLOOR } from "#core/audio/level";

/** How much is seen: 12 s, a bar every 100 ms. */
const BARS = 120;
const EVERY_MS = 100;

/** The voice of the last seconds, moving: the newest at the right. */
export function LiveWave({ meter }: { meter: LevelMeter }) {
  const [levels, setLevels] = useState<readonly number[]>([]);
  useEffect(() => {
    const look = () => setLevels((before) => [...before, meter.read(performance.now()).peak].slice(-BARS));
    const timer = setInterval(look, EVERY_MS);
    return () => clearInterval(timer);
  }, [meter]);
  const bar = (level: number, i: number) => {
    const height = Math.max(0.01, 1 - level / FLOOR);
    return `M${BARS - levels.length + i + 0.5} ${(1 - height) / 2}v${height}`;
  };
  return (
    <svg
      viewBox={`0 0 ${BARS} 1`}
      preserveAspectRatio="none"
      role="img"
      aria-label="Your voice, the last seconds"
      style={{ position: "absolute", left: "4%", top: "25%", width: "92%", height: "50%" }}
    >
      <path d={levels.map(bar).join("")} stroke="var(--mui-palette-primary-main)" strokeWidth={0.6} />
    </svg>
  );
}
