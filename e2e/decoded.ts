import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import * as HLS from "hls-parser";
import { joinBytes } from "../testing/media";

/** What is shown of a track of a revision behind a link, in one file, as soon as all of it is on the server. */
export async function fileOf(page: Page, link: string, track: string, revision = 1): Promise<string> {
  const get = async (path: string) =>
    Buffer.from(await (await page.request.get(`${link}/r${revision}/${path}`)).body());
  const listed = async () => HLS.parse((await get(`${track}.m3u8`)).toString()) as HLS.types.MediaPlaylist;
  await expect.poll(async () => (await listed()).endlist, { timeout: 60_000 }).toBe(true);
  const list = await listed();
  const uris = [`${track}/init.mp4`, ...list.segments.filter((s) => !s.gap).map((s) => s.uri)];
  const file = join(mkdtempSync(join(tmpdir(), "decoded-")), `${track}.mp4`);
  writeFileSync(file, joinBytes(...(await Promise.all(uris.map(get)))));
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
