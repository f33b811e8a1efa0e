import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { TUNES, type Tune } from "#core/audio/music";

describe.each(Object.entries(TUNES) as [Tune, number][])("the tune %s", (tune, seconds) => {
  const file = join(import.meta.dirname, "..", "public", "music", `${tune}.m4a`);

  // Outside checks: ffprobe and ffmpeg's `ebur128`.
  it("is as long as the player takes it for, quiet, and silent at its end", () => {
    const probe = spawnSync("ffprobe", ["-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0", file]);
    expect(Math.abs(Number(probe.stdout.toString()) - seconds)).toBeLessThan(0.1);
    const heard = (from: number) => {
      const args = ["-hide_banner", "-ss", String(from), "-i", file, "-af", "ebur128=peak=true", "-f", "null", "-"];
      const text = spawnSync("ffmpeg", args).stderr.toString();
      const last = (name: string) =>
        Number([...text.matchAll(new RegExp(`${name}:\\s+(-?[\\d.]+|-inf)`, "g"))].at(-1)![1]);
      return { loudness: last("I"), peak: last("Peak") };
    };
    const all = heard(0);
    expect(Math.abs(all.loudness + 22)).toBeLessThan(0.6);
    expect(all.peak).toBeLessThan(-3);
    expect(heard(seconds - 0.1).peak).not.toBeGreaterThan(-40);
  });
});
