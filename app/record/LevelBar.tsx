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

/** Often enough to be alive: while recording, every picture that the page draws is taken from the encoder. */
const DRAWN_MS = 66;
const TOLD_MS = 300;

const share = (level: number) => (level - FLOOR) / -FLOOR;

/** The microphone's level in dBFS, moving, with its peak held. The number is told in words a few times a second. */
export function LevelBar({ meter }: { meter: LevelMeter }) {
  const bar = useRef<HTMLDivElement>(null);
  const peak = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState(FLOOR);
  useEffect(() => {
    let told = 0;
    const timer = setInterval(() => {
      const now = performance.now();
      const level = meter.read(now);
      bar.current!.style.transform = `scaleX(${share(level.peak)})`;
      peak.current!.style.transform = `translateX(${100 * share(level.held)}%)`;
      if (now - told < TOLD_MS) return;
      told = now;
      setHeld(Math.round(level.held));
    }, DRAWN_MS);
    return () => clearInterval(timer);
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
          sx={{
            position: "absolute",
            inset: 0,
            ml: "-3px",
            borderLeft: "3px solid",
            borderColor: "text.primary",
            transform: "translateX(0)",
          }}
        />
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: "0.85rem" }}>
        <span>{advice ?? word}</span>
        <span className="clock">{held} dBFS</span>
      </Box>
    </Box>
  );
}
