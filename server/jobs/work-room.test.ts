import { existsSync, mkdirSync, mkdtempSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { expect, it } from "vitest";
import { inFolder, openWorkRoom } from "./work-room";

it("is a room of one's own, empty at the start, of which nothing stays", async () => {
  const dir = join(mkdtempSync(join(tmpdir(), "room-")), "work");
  mkdirSync(join(dir, "clear-nod-killed"), { recursive: true });
  writeFileSync(join(dir, "clear-nod-killed", "sound.mp4"), "pieces of a recording");
  await openWorkRoom(dir);
  expect(readdirSync(dir)).toEqual([]);
  // For nobody else on this computer.
  expect(statSync(dir).mode & 0o077).toBe(0);
  const broken = inFolder(async (folder) => {
    expect(dirname(folder)).toBe(dir);
    writeFileSync(join(folder, "a"), "a");
    throw new Error(folder);
  });
  const { message } = await broken.catch((error: Error) => error);
  expect(existsSync(message as string)).toBe(false);
  expect(await inFolder((folder) => Promise.resolve(existsSync(folder)))).toBe(true);
  expect(readdirSync(dir)).toEqual([]);
});
