/**
 * Makes `public/reference.m4a`, the speech that rehearsals are compared with: eight seconds of a voice of the sample at
 * −16 LUFS, with true peaks of at most −1 dBTP (`loudnorm` of ffmpeg, measured first, then applied as one gain).
 */
import { execFileSync, spawnSync } from "node:child_process";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const HERE = dirname(fileURLToPath(import.meta.url));
const VOICE = join(HERE, "media", "survey-drawing", "microphone.mp4");
const OUT = join(HERE, "..", "public", "reference.m4a");
const CUT = ["-ss", "0.4", "-t", "8", "-i", VOICE];
const AIM = "loudnorm=I=-16:TP=-1.5:LRA=11";

const { stderr } = spawnSync("ffmpeg", ["-hide_banner", ...CUT, "-af", `${AIM}:print_format=json`, "-f", "null", "-"]);
const measured = JSON.parse(/\{[^{}]*\}\s*$/.exec(stderr.toString())![0]) as Record<string, string>;
const known = [
  `measured_I=${measured.input_i}`,
  `measured_TP=${measured.input_tp}`,
  `measured_LRA=${measured.input_lra}`,
  `measured_thresh=${measured.input_thresh}`,
  "linear=true",
].join(":");
execFileSync("ffmpeg", [
  ...["-v", "error", "-y", ...CUT, "-af", `${AIM}:${known},aresample=48000`, "-ac", "1"],
  ...["-c:a", "aac", "-b:a", "96k", "-map_metadata", "-1", "-movflags", "+faststart", OUT],
]);
