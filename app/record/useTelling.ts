import { useEffect, useRef } from "react";
import type { Phase } from "#capture/recorder-state";
import { LOOKS } from "./phases";

/**
 * Tells the phase in the page's title and icon, and with a short sound where it changes.
 * @param always also while nothing is going on
 * @param place where the tab is now: another one has given its own title to the page
 */
export function useTelling(phase: Phase, count: number, withSound: boolean, always: boolean, place: string): void {
  const told = always || (phase !== "ready" && phase !== "saved");
  useEffect(() => {
    if (!told) return;
    const before = document.title;
    const title = `${LOOKS[phase].title} · Clear Nod`;
    document.title = title;
    const icon = document.querySelector<HTMLLinkElement>("link[rel=icon]");
    icon?.setAttribute("href", `/icons/${LOOKS[phase].icon}.svg`);
    return () => {
      if (document.title === title) document.title = before;
      icon?.setAttribute("href", "/icons/ready.svg");
    };
  }, [phase, told, place]);

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

/** Sounds when something goes wrong, twice so that it is told from a state. @param alarm null while all is well */
export function useAlarmSound(alarm: string | null): void {
  useEffect(() => {
    if (alarm === null) return;
    tone(880, 120);
    const again = setTimeout(() => tone(660, 160), 200);
    return () => clearTimeout(again);
  }, [alarm]);
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
