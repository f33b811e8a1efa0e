import { useEffect, useRef } from "react";
import type { Phase } from "#capture/recorder-state";
import { LOOKS } from "./phases";

/** Tells the phase in the page's title and icon, and with a short sound where it changes. */
export function useTelling(phase: Phase, count: number, withSound: boolean): void {
  useEffect(() => {
    document.title = `${LOOKS[phase].title} · Clear Nod`;
    document.querySelector<HTMLLinkElement>("link[rel=icon]")?.setAttribute("href", `/icons/${LOOKS[phase].icon}.svg`);
    return () => document.querySelector("link[rel=icon]")?.setAttribute("href", "/icons/ready.svg");
  }, [phase]);

  const before = useRef(phase);
  useEffect(() => {
    const was = before.current;
    before.current = phase;
    if (!withSound) return;
    // Nothing sounds while the microphone is being recorded.
    if (phase === "counting") tone(440, 90);
    if (phase === "paused") tone(330, 140);
    if (phase === "saving" && was !== "saving") tone(262, 240);
  }, [phase, count, withSound]);
}

function tone(frequency: number, ms: number): void {
  const context = new AudioContext();
  const gain = context.createGain();
  const oscillator = context.createOscillator();
  oscillator.frequency.value = frequency;
  gain.gain.setValueAtTime(0.08, context.currentTime);
  gain.gain.exponentialRampToValueAtTime(0.0001, context.currentTime + ms / 1000);
  oscillator.connect(gain).connect(context.destination);
  oscillator.onended = () => void context.close();
  oscillator.start();
  oscillator.stop(context.currentTime + ms / 1000);
}
