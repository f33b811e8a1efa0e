import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";
import type { LevelMeter } from "#capture/level-meter";
import { FLOOR, levelWord } from "#core/audio/level";

/** What to do about a level that is not good. */
const ADVICE: Partial<Record<ReturnType<typeof levelWord>, string>> = {
  silent: "Say something to see it move",
  quiet: "Quiet: come closer, or turn it up",
  "too loud": "Too loud: go back a little, or turn it down",
};

const share = (level: number) => (level - FLOOR) / -FLOOR;

/** The microphone's level in dBFS, moving, with its peak held. The number is told in words a few times a second. */
export function LevelBar({ meter }: { meter: LevelMeter }) {
  const bar = useRef<HTMLDivElement>(null);
  const peak = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState(FLOOR);
  useEffect(() => {
    let frame = 0;
    let told = 0;
    const draw = (now: number) => {
      const level = meter.read(now);
      bar.current!.style.transform = `scaleX(${share(level.peak)})`;
      peak.current!.style.left = `${100 * share(level.held)}%`;
      if (now - told > 300) {
        told = now;
        setHeld(Math.round(level.held));
      }
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [meter]);
  const word = levelWord(held);
  const advice = ADVICE[word];
  return (
    <Box
      role="meter"
      aria-label="Microphone level"
      aria-valuemin={FLOOR}
      aria-valuemax={0}
      aria-valuenow={held}
      aria-valuetext={`${held} decibels, ${word}`}
    >
      <Box sx={{ position: "relative", height: 14, bgcolor: "mist", overflow: "hidden" }}>
        <Box
          ref={bar}
          sx={{
            position: "absolute",
            inset: 0,
            bgcolor: "primary.main",
            transformOrigin: "left",
            transform: "scaleX(0)",
          }}
        />
        <Box
          ref={peak}
          sx={{ position: "absolute", top: 0, bottom: 0, width: 3, ml: "-3px", bgcolor: "text.primary" }}
        />
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: "0.85rem" }}>
        <span>{advice ?? word}</span>
        <span className="clock">{held} dBFS</span>
      </Box>
    </Box>
  );
}
