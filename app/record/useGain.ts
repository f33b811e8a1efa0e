import { useState } from "react";
import { factorOf, GAIN } from "#core/audio/gain";
import { kept } from "../kept";

const GAINS = "clear-nod-gain";

/** How far each microphone is turned up or down, in dB, as it was left on this computer. */
export function useGain(deviceId: string | null) {
  const [gains, setGains] = useState(readGains);
  const decibels = (deviceId && gains[deviceId]) || 0;
  const turn = (to: number) => {
    if (!deviceId) return;
    const next = { ...readGains(), [deviceId]: Math.max(GAIN.least, Math.min(GAIN.most, to)) };
    kept.write(GAINS, next);
    setGains(next);
  };
  return { decibels, factor: factorOf(decibels), turn };
}

function readGains(): Record<string, number> {
  const isGain = (g: unknown): g is number => typeof g === "number" && g >= GAIN.least && g <= GAIN.most;
  return Object.fromEntries(Object.entries(kept.read(GAINS) ?? {}).filter((e): e is [string, number] => isGain(e[1])));
}
