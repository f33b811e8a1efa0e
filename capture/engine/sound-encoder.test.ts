import { execFileSync } from "node:child_process";
import { AudioSample, AudioSampleSource, EncodedAudioPacketSource } from "mediabunny";
import { expect, it } from "vitest";
import { readInit } from "#core/media/init";
import { readSegment } from "#core/media/segment";
import { joinBytes } from "#core/media/split";
import { probePackets } from "../../testing/media";
import { Segmenter } from "./segmenter";
import { openSoundEncoder } from "./sound-encoder";

const RATE = 48_000;
const SECONDS = 4;
/** The first packet's worth has no packet before it to overlap with, and is only nearly right. */
const CLICKS = [1_500, 24_000, 100_000, 170_000];
const BLOCK = 480;

/** So many seconds of silence with clicks of 8 samples, as the segments of a track. */
async function encoded(kind: "microphone" | "sound") {
  const parts: Uint8Array[] = [];
  const encoder = await openSoundEncoder(kind, "aac");
  const segmenter = new Segmenter(encoder.packets, null, (_, bytes) => void parts.push(bytes));
  await segmenter.start();
  await encoder.start();
  const channels = kind === "sound" ? 2 : 1;
  for (let at = 0; at < SECONDS * RATE; at += BLOCK) {
    const data = new Float32Array(BLOCK * channels);
    for (const click of CLICKS) {
      for (let i = Math.max(at, click); i < Math.min(at + BLOCK, click + 8); i++)
        data.fill(0.9, (i - at) * channels, (i - at + 1) * channels);
    }
    const sample = new AudioSample({
      data,
      format: "f32",
      numberOfChannels: channels,
      sampleRate: RATE,
      timestamp: at / RATE,
    });
    await encoder.add(sample);
    sample.close();
  }
  await encoder.finish();
  const count = await segmenter.finish();
  return { init: parts[0]!, segments: parts.slice(1), count };
}

/** Outside check: where ffmpeg's decoder puts what is loud, by sample. */
function loudPlaces(file: Uint8Array): number[] {
  const pcm = execFileSync("ffmpeg", ["-v", "error", "-i", "-", "-f", "f32le", "-ac", "1", "-"], {
    input: file,
    maxBuffer: 2 ** 26,
  });
  const samples = new Float32Array(pcm.buffer.slice(pcm.byteOffset, pcm.byteOffset + pcm.byteLength));
  const places: number[] = [];
  samples.forEach((s, i) => {
    if (Math.abs(s) > 0.45 && i - (places.at(-1) ?? -RATE) > RATE / 10) places.push(i);
  });
  return places;
}

it.each(["microphone", "sound"] as const)("%s is AAC-LC, each sample where it belongs", async (kind) => {
  const { init, segments, count } = await encoded(kind);
  const info = readInit(init);
  expect(info).toMatchObject({ codec: "mp4a.40.2", sampleRate: RATE, channels: kind === "sound" ? 2 : 1 });
  expect(count).toBe(segments.length);
  const told = segments.map((s) => readSegment(s, info));
  expect(told[0]!.start).toBe(0);
  told.forEach((s, i) => expect(s.start).toBe(i === 0 ? 0 : told[i - 1]!.start + told[i - 1]!.duration));
  const length = told.at(-1)!.start + told.at(-1)!.duration;
  // No shorter than what was said, and by less than a packet longer.
  expect(length - SECONDS * RATE).toBeGreaterThanOrEqual(0);
  expect(length - SECONDS * RATE).toBeLessThan(1024);
  const file = joinBytes([init, ...segments]);
  expect(probePackets(file)).toMatchObject({ codec: "aac", start: 0 });
  loudPlaces(file).forEach((place, i) => expect(Math.abs(place - CLICKS[i]!)).toBeLessThanOrEqual(8));
  expect(loudPlaces(file)).toHaveLength(CLICKS.length);
});

it("is Opus where that is wanted, and where no AAC encoder starts", async () => {
  const packets = async (...given: Parameters<typeof openSoundEncoder>) => (await openSoundEncoder(...given)).packets;
  expect(await packets("sound", "aac", async () => true)).toBeInstanceOf(EncodedAudioPacketSource);
  expect(await packets("sound", "aac", async () => false)).toBeInstanceOf(AudioSampleSource);
  expect(await packets("sound", "opus", async () => true)).toBeInstanceOf(AudioSampleSource);
});
