import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, it } from "vitest";
import { writeWebVtt } from "./web-vtt";

const S = 1_000_000;

it("writes captions as WebVTT, whatever stands in them", () => {
  const vtt = writeWebVtt([
    { from: 0, to: 1.5 * S, text: "The ridge & the <vent>" },
    { from: 3_661.25 * S, to: 3_662 * S, text: "One\n\n two --> three" },
    { from: 3_663 * S, to: 3_664 * S, text: " \n" },
  ]);
  expect(vtt).toBe(
    "WEBVTT\n\n00:00:00.000 --> 00:00:01.500\nThe ridge &amp; the &lt;vent&gt;\n\n" +
      "01:01:01.250 --> 01:01:02.000\nOne\ntwo -&gt; three\n",
  );
  // Outside check: ffprobe reads the same moments.
  const file = join(mkdtempSync(join(tmpdir(), "vtt-")), "captions.vtt");
  writeFileSync(file, vtt);
  const args = ["-v", "error", "-show_entries", "packet=pts_time,duration_time", "-of", "csv=p=0", file];
  expect(execFileSync("ffprobe", args).toString().trim().split("\n")).toEqual([
    "0.000000,1.500000",
    "3661.250000,0.750000",
  ]);
});

it("is a file where there are none", () => expect(writeWebVtt([])).toBe("WEBVTT\n"));
