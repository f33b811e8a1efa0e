import type { LightFigures } from "./light";
import type { SoundFigures } from "./sound";

/** `waiting`: it cannot be told yet. */
export type Verdict = "good" | "fair" | "bad" | "waiting";

/** One line of the ready check: what was measured, what that means, and how to mend it. */
export interface CheckLine {
  name: string;
  value: string;
  verdict: Verdict;
  mend: string | null;
}

/**
 * Speech for listening at a desk or on a phone: −16 LUFS, and what is near enough to need no turning. AES TD1008 (from
 * memory) recommends −18 to −16 for streamed speech; the range around it is common practice, no published source.
 */
export const SPEECH = { target: -16, from: -21, to: -12 } as const;
/** Further away than this a viewer will reach for the volume. LU */
const FAR = 6;
/** Quieter than this nobody has spoken. LUFS; common practice, no published source */
const UNSPOKEN = -45;
/** A voice stands so far above its room that it is not heard, or hardly. LU; common practice, no published source */
const CLEAR = { good: 25, fair: 15 } as const;
/** EBU R 128 has −1 dBTP as the most (from memory). */
const MOST_PEAK = -1;

const lufs = (value: number) => (Number.isFinite(value) ? `${said(value)} LUFS` : "silence");
const said = (value: number) => `${value < 0 ? "−" : ""}${Math.abs(Math.round(value))}`;
const percent = (share: number) => `${Math.round(100 * share)} %`;

/** @param sound null while nothing has been measured */
export function soundLines(sound: SoundFigures | null): CheckLine[] {
  if (!sound || sound.seconds < 1)
    return [{ name: "Voice", value: "listening", verdict: "waiting", mend: "Say a sentence or two." }];
  return [voiceLine(sound), roomLine(sound), peakLine(sound)];
}

function voiceLine({ loudness }: SoundFigures): CheckLine {
  const line = { name: "Voice", value: `${lufs(loudness)}, ${said(SPEECH.from)} to ${said(SPEECH.to)} is good` };
  if (!(loudness > UNSPOKEN))
    return { name: "Voice", value: "nothing was said", verdict: "waiting", mend: "Say a sentence or two." };
  if (loudness < SPEECH.from)
    return {
      ...line,
      verdict: loudness < SPEECH.from - FAR ? "bad" : "fair",
      mend: "Come closer to the microphone, or turn it up in the system's sound settings.",
    };
  if (loudness > SPEECH.to)
    return {
      ...line,
      verdict: loudness > SPEECH.to + FAR ? "bad" : "fair",
      mend: "Go back a little, or turn the microphone down in the system's sound settings.",
    };
  return { ...line, verdict: "good", mend: null };
}

function roomLine({ loudness, noise }: SoundFigures): CheckLine {
  const name = "Room";
  if (!(loudness > UNSPOKEN))
    return { name, value: lufs(noise), verdict: "waiting", mend: "It is told beside your voice." };
  const above = loudness - noise;
  const value = Number.isFinite(above) ? `${Math.round(above)} LU below your voice` : "silence";
  if (above >= CLEAR.good) return { name, value, verdict: "good", mend: null };
  return {
    name,
    value,
    verdict: above >= CLEAR.fair ? "fair" : "bad",
    mend: "Pause for a moment. If it stays: close the window, switch off what hums, or come closer to the microphone.",
  };
}

function peakLine({ peak }: SoundFigures): CheckLine {
  const line = {
    name: "Peaks",
    value: Number.isFinite(peak) ? `${peak.toFixed(1).replace("-", "−")} dBTP` : "silence",
  };
  if (!(peak > MOST_PEAK)) return { ...line, verdict: "good", mend: null };
  return {
    ...line,
    verdict: peak >= 0 ? "bad" : "fair",
    mend: "It is distorted where it is loudest. Turn the microphone down in the system's sound settings.",
  };
}

/** Mean luma of a face and a room that are lit; common practice, no published source. */
const MEAN = { dark: 0.15, dim: 0.28, bright: 0.8 } as const;
/** Of the picture, common practice, no published source. */
const BLOWN_MOST = 0.12;

/** @param light null while no picture has come */
export function lightLine(light: LightFigures | null): CheckLine {
  const name = "Light";
  if (!light) return { name, value: "looking", verdict: "waiting", mend: null };
  const { mean, blown } = light;
  const value = `${percent(mean)} bright${blown > 0.005 ? `, ${percent(blown)} of it white` : ""}`;
  if (mean < MEAN.dim)
    return {
      name,
      value,
      verdict: mean < MEAN.dark ? "bad" : "fair",
      mend: "It is dark. Turn towards a window, or put a lamp behind the screen.",
    };
  if (blown > BLOWN_MOST)
    return {
      name,
      value,
      verdict: "fair",
      mend: "Part of the picture is only white. Turn away from the window or the lamp behind you.",
    };
  if (mean > MEAN.bright)
    return { name, value, verdict: "fair", mend: "It is very bright. Dim the light, or move back from it." };
  return { name, value, verdict: "good", mend: null };
}

/** @param reached pictures a second that come. @param wanted what was asked for */
export function rateLine(reached: number, wanted: number): CheckLine {
  const name = "Pictures";
  const value = `${Math.round(reached)} of ${wanted} a second`;
  const share = reached / wanted;
  if (share >= 0.8) return { name, value, verdict: "good", mend: null };
  return {
    name,
    value,
    verdict: share >= 0.45 ? "fair" : "bad",
    mend: "Cameras slow down in little light, and when this computer is busy. Give it more light, or close what you do not need.",
  };
}

/**
 * @param free bytes that this computer's browser may still keep
 * @param bytesPerMinute what a recording takes
 */
export function spaceLine(free: number, bytesPerMinute: number): CheckLine {
  const name = "Space";
  const minutes = Math.floor(free / bytesPerMinute);
  const value = minutes >= 120 ? `about ${Math.floor(minutes / 60)} hours` : `about ${minutes} minutes`;
  if (minutes >= 60) return { name, value, verdict: "good", mend: null };
  return {
    name,
    value,
    verdict: minutes >= 15 ? "fair" : "bad",
    mend: "Free some space on this computer: a recording is kept here until the server has it.",
  };
}

/** Room for what a connection does besides. Times what is recorded. */
const UPLOAD = { good: 1.5, fair: 0.7 } as const;

/**
 * @param reached bits a second that went to the server; 0 where it cannot be reached
 * @param wanted what a recording makes, bits a second
 */
export function uploadLine(reached: number, wanted: number): CheckLine {
  const name = "Sending";
  const megabits = (bits: number) => (bits / 1e6).toFixed(bits < 10e6 ? 1 : 0);
  const value =
    reached === 0
      ? "the server cannot be reached"
      : `${megabits(reached)} Mbit a second, ${megabits(wanted)} are recorded`;
  if (reached >= wanted * UPLOAD.good) return { name, value, verdict: "good", mend: null };
  return {
    name,
    value,
    verdict: reached >= wanted * UPLOAD.fair ? "fair" : "bad",
    mend: "Nothing is lost: what cannot be sent at once is kept here, and the link is whole later than the recording ends.",
  };
}

const ORDER: readonly Verdict[] = ["bad", "fair", "waiting", "good"];
const WORDS: Record<Verdict, string> = {
  bad: "to mend",
  fair: "could be better",
  waiting: "not known yet",
  good: "good",
};

export const verdictWord = (verdict: Verdict): string => WORDS[verdict];

/** All lines in a few words: the worst of them by name. */
export function summary(lines: readonly CheckLine[]): string {
  const worst = ORDER.find((verdict) => lines.some((line) => line.verdict === verdict)) ?? "waiting";
  if (worst === "good") return "all good";
  const names = lines.filter((line) => line.verdict === worst).map((line) => line.name.toLowerCase());
  return `${names.join(", ")}: ${WORDS[worst]}`;
}
