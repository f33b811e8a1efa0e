import type { Phase } from "#capture/recorder-state";

interface Look {
  word: string;
  /** for the page title */
  title: string;
  icon: "ready" | "counting" | "recording" | "paused" | "saving";
  sign: string;
}

/** Every phase is told in its own word, sign, favicon and page title; colour only comes on top. */
export const LOOKS: Record<Phase, Look> = {
  ready: { word: "Ready", title: "Ready to record", icon: "ready", sign: "∩" },
  asking: { word: "Choosing what to show", title: "Choosing what to show", icon: "ready", sign: "∩" },
  rehearsing: { word: "Rehearsing, nothing is kept", title: "Rehearsing", icon: "counting", sign: "◌" },
  waiting: { word: "Waiting to start", title: "Waiting to start", icon: "counting", sign: "◷" },
  counting: { word: "Counting in", title: "Counting in", icon: "counting", sign: "◔" },
  recording: { word: "Recording", title: "◆ Recording", icon: "recording", sign: "◆" },
  paused: { word: "Paused, nothing is recorded", title: "❚❚ Paused", icon: "paused", sign: "❚❚" },
  saving: { word: "Saving", title: "Saving", icon: "saving", sign: "↑" },
  saved: { word: "Saved", title: "Saved", icon: "ready", sign: "✓" },
};
