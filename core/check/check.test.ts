import { execFileSync } from "node:child_process";
import { describe, expect, it } from "vitest";
import { lightOf } from "./light";
import { SoundCheck } from "./sound";
import { lightLine, rateLine, soundLines, spaceLine, summary, uploadLine, type CheckLine } from "./verdicts";

const RATE = 48_000;
const sine = (seconds: number, amplitude: number, frequency = 997) =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => amplitude * Math.sin((2 * Math.PI * frequency * i) / RATE));
const joined = (...parts: Float32Array[]) => Float32Array.from(parts.flatMap((part) => [...part]));

/** In the blocks of an audio worklet. */
function checked(samples: Float32Array) {
  const check = new SoundCheck(RATE);
  for (let at = 0; at < samples.length; at += 128) check.push(samples.subarray(at, at + 128));
  return check.figures;
}

describe("the sound check", () => {
  it("tells a voice by its loudest three seconds, the room by its quietest moment", () => {
    const figures = checked(joined(sine(3, 0.001), sine(4, 0.2), sine(2, 0.001)));
    // A sine of 997 Hz at full scale has −3.01 LUFS in one channel (ITU-R BS.1770): 0.2 is 13.98 dB, 0.001 60 dB less.
    expect(figures.loudness).toBeCloseTo(-3.01 - 13.98, 1);
    expect(figures.noise).toBeCloseTo(-63.01, 1);
    expect(figures.peak).toBeCloseTo(-13.98, 1);
    expect(figures.seconds).toBeCloseTo(9);
  });

  it("forgets what is longer ago than ten seconds", () => {
    const figures = checked(joined(sine(4, 0.9), sine(14, 0.01)));
    expect(figures.peak).toBeCloseTo(-40, 1);
    expect(figures.loudness).toBeCloseTo(-43.01, 1);
    expect(figures.seconds).toBe(10);
  });

  it("says what ffmpeg's ebur128 says of the same speech-like sound", () => {
    // Outside check: ffmpeg, the highest short-term loudness, to half a unit.
    const noise = Float32Array.from({ length: 9 * RATE }, (_, i) => {
      const syllable = Math.max(0, Math.sin((2 * Math.PI * 3 * i) / RATE));
      return 0.3 * syllable * Math.sin((2 * Math.PI * 180 * i) / RATE) * (i > 6 * RATE ? 0.3 : 1);
    });
    const told = execFileSync(
      "sh",
      ["-c", "ffmpeg -hide_banner -nostats -f f32le -ar 48000 -ac 1 -i - -af ebur128=peak=true -f null - 2>&1"],
      { input: Buffer.from(noise.buffer) },
    ).toString();
    const shortTerm = [...told.matchAll(/ S:\s*(-?[\d.]+)/g)].map(([, value]) => Number(value));
    const peak = Number(/Peak:\s*(-?[\d.]+) dBFS/.exec(told)![1]);
    const ours = checked(noise);
    expect(shortTerm.length).toBeGreaterThan(50);
    expect(Math.abs(ours.loudness - Math.max(...shortTerm))).toBeLessThan(0.5);
    expect(Math.abs(ours.peak - peak)).toBeLessThan(0.5);
  });
});

describe("the light of a picture", () => {
  const grey = (value: number, count = 100) =>
    Uint8ClampedArray.from(Array.from({ length: count }, () => [value, value, value, 255]).flat());

  it("is mean luma after BT.709, and what is at its ends", () => {
    expect(lightOf(grey(128))).toEqual({ mean: expect.closeTo(0.502, 3), blown: 0, black: 0 });
    expect(lightOf(new Uint8ClampedArray([255, 0, 0, 255])).mean).toBeCloseTo(0.2126);
    expect(lightOf(Uint8ClampedArray.from([...grey(255, 30), ...grey(0, 70)]))).toMatchObject({
      blown: 0.3,
      black: 0.7,
    });
    expect(() => lightOf(new Uint8ClampedArray())).toThrow(RangeError);
  });
});

describe("the verdicts", () => {
  const voice = (loudness: number, noise = -60, peak = -6) => soundLines({ loudness, noise, peak, seconds: 10 });
  const verdicts = (lines: CheckLine[]) => lines.map((line) => line.verdict).join(" ");

  it("say of a voice whether it is heard well, over its room and without distortion", () => {
    expect(verdicts(voice(-16))).toBe("good good good");
    expect(verdicts(voice(-24))).toBe("fair good good");
    expect(verdicts(voice(-32))).toBe("bad good good");
    expect(verdicts(voice(-9))).toBe("fair good good");
    expect(verdicts(voice(-16, -36))).toBe("good fair good");
    expect(verdicts(voice(-16, -28))).toBe("good bad good");
    expect(verdicts(voice(-16, -60, -0.4))).toBe("good good fair");
    expect(verdicts(voice(-16, -60, 0.3))).toBe("good good bad");
    expect(voice(-24)[0]).toMatchObject({
      value: "−24 LUFS, −21 to −12 is good",
      mend: expect.stringMatching(/closer/),
    });
  });

  it("wait where nothing was said, and never take silence for a good voice", () => {
    expect(verdicts(voice(-Infinity, -Infinity, -Infinity))).toBe("waiting waiting good");
    expect(verdicts(soundLines(null))).toBe("waiting");
    expect(verdicts(voice(-16, -Infinity))).toBe("good good good");
  });

  it("say of light, pictures and space what to do", () => {
    const light = (mean: number, blown = 0) => lightLine({ mean, blown, black: 0 }).verdict;
    expect([light(0.5), light(0.2), light(0.1), light(0.9), light(0.5, 0.2)]).toEqual([
      "good",
      "fair",
      "bad",
      "fair",
      "fair",
    ]);
    expect([29.6, 18, 9].map((rate) => rateLine(rate, 30).verdict)).toEqual(["good", "fair", "bad"]);
    expect(spaceLine(5e9, 25e6)).toMatchObject({ value: "about 3 hours", verdict: "good" });
    expect(spaceLine(5e8, 25e6)).toMatchObject({ value: "about 20 minutes", verdict: "fair" });
    expect(spaceLine(1e8, 25e6)).toMatchObject({ value: "about 4 minutes", verdict: "bad" });
    // Whatever is not good says what to do.
    for (const line of [
      ...voice(-40),
      ...voice(-5, -10, 2),
      lightLine({ mean: 0, blown: 0, black: 1 }),
      rateLine(1, 30),
    ])
      expect(line.verdict === "good" || line.mend !== null, line.name).toBe(true);
  });

  it("say how long the link will lag behind, and that nothing is lost", () => {
    const verdict = (reached: number) => uploadLine(reached, 3.3e6).verdict;
    expect([0, 1e6, 3.4e6, 5e6].map(verdict)).toEqual(["bad", "bad", "fair", "good"]);
    expect(uploadLine(24e6, 3.3e6).value).toBe("24 Mbit a second, 3.3 are recorded");
    expect(uploadLine(0, 3.3e6)).toMatchObject({ value: "the server cannot be reached", mend: expect.any(String) });
  });

  it("are summed up by the worst of them", () => {
    expect(summary(voice(-16))).toBe("all good");
    expect(summary([...voice(-32), lightLine({ mean: 0.2, blown: 0, black: 0 })])).toBe("voice: to mend");
    expect(summary([...voice(-24), lightLine({ mean: 0.2, blown: 0, black: 0 })])).toBe(
      "voice, light: could be better",
    );
    expect(summary(soundLines(null))).toBe("voice: not known yet");
  });
});
