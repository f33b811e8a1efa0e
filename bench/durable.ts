import { fork } from "node:child_process";
import { mkdirSync } from "node:fs";
import { webcrypto } from "node:crypto";
import { open, rename } from "node:fs/promises";
import { createServer } from "node:http";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

/**
 * A program of its own that takes PUT, and does the least that keeping a file durably takes.
 * @param hashed it takes the SHA-256 of what it keeps as well
 */
export async function openDurable(dir: string, hashed: boolean): Promise<{ base: string; stop(): void }> {
  mkdirSync(dir);
  const program = fork(fileURLToPath(import.meta.url), [dir, ...(hashed ? ["hashed"] : [])]);
  const port = await new Promise<number>((heard) => program.once("message", (message) => heard(message as number)));
  return { base: `http://127.0.0.1:${port}`, stop: () => void program.kill() };
}

async function keep(dir: string, name: string, parts: Buffer[], hashed: boolean): Promise<void> {
  if (hashed) await webcrypto.subtle.digest("SHA-256", Buffer.concat(parts));
  const file = await open(join(dir, `${name}.part`), "w");
  await file.writev(parts);
  await file.datasync();
  await file.close();
  await rename(join(dir, `${name}.part`), join(dir, name));
  const folder = await open(dir, "r");
  await folder.sync();
  await folder.close();
}

if (process.send) {
  const [dir, hashed] = process.argv.slice(2) as [string, string?];
  const server = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on("data", (part: Buffer) => parts.push(part));
    request.on("end", () => {
      void keep(dir, request.url!.slice(1), parts, hashed !== undefined).then(() => response.writeHead(201).end());
    });
  }).listen(0, "127.0.0.1", () => process.send!((server.address() as { port: number }).port));
}
