import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import * as HLS from "hls-parser";
import { joinBytes } from "../testing/media";

/**
 * What is shown of a track of a revision behind a link, in one file, as soon as all of it is on the server; or of the
 * next one, where the take was published once more by itself because its scenes have hidden something.
 */
export async function fileOf(page: Page, link: string, track: string, revision = 1): Promise<string> {
  const file = join(mkdtempSync(join(tmpdir(), "decoded-")), `${track}.mp4`);
  let shown = revision;
  await expect(async () => {
    const get = async (path: string) => {
      const answer = await page.request.get(`${link}/r${shown}/${path}`);
      if (answer.status() === 404) shown = shown === revision ? revision + 1 : revision;
      expect(answer.status(), path).toBe(200);
      return Buffer.from(await answer.body());
    };
    const list = HLS.parse((await get(`${track}.m3u8`)).toString()) as HLS.types.MediaPlaylist;
    expect(list.endlist).toBe(true);
    const uris = [`${track}/init.mp4`, ...list.segments.filter((s) => !s.gap).map((s) => s.uri)];
    const parts: Buffer[] = [];
    for (const uri of uris) parts.push(await get(uri));
    writeFileSync(file, joinBytes(...parts));
  }).toPass({ timeout: 60_000, intervals: [200] });
  return file;
}

/** What ffmpeg or ffprobe say. */
export const run = (program: string, ...args: string[]) =>
  execFileSync(program, ["-v", "error", ...args], { maxBuffer: 2 ** 28 });

/** The sound of a file as ffmpeg's decoder gives it: one channel of 48 kHz. @param part of it: `-ss`, `-t` */
export function samplesOf(file: string, ...part: string[]): Float32Array {
  const raw = run("ffmpeg", "-i", file, ...part, "-ac", "1", "-ar", "48000", "-f", "f32le", "-");
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
}

/** Every picture of a file, as ffmpeg's decoder shows it: when, and how bright each of `columns` equal columns is. */
export function picturesOf(file: string, columns: number): { at: number; columns: Uint8Array }[] {
  const times = run("ffprobe", "-show_entries", "packet=pts_time", "-of", "csv=p=0", file).toString().trim();
  const filter = `scale=${columns}:1:flags=area,format=gray`;
  const raw = run("ffmpeg", "-i", file, "-vf", filter, "-fps_mode", "passthrough", "-f", "rawvideo", "-");
  return times.split("\n").map((at, i) => ({ at: Number(at), columns: raw.subarray(i * columns, (i + 1) * columns) }));
}
