import { fork } from "node:child_process";
import { mkdirSync } from "node:fs";
import { open, rename } from "node:fs/promises";
import { createServer } from "node:http";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

/** A program of its own that takes PUT, and does the least that keeping a file durably takes. */
export async function openDurable(dir: string): Promise<{ base: string; stop(): void }> {
  mkdirSync(dir);
  const program = fork(fileURLToPath(import.meta.url), [dir]);
  const port = await new Promise<number>((heard) => program.once("message", (message) => heard(message as number)));
  return { base: `http://127.0.0.1:${port}`, stop: () => void program.kill() };
}

async function keep(dir: string, name: string, parts: Buffer[]): Promise<void> {
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
  const dir = process.argv[2]!;
  const server = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on("data", (part: Buffer) => parts.push(part));
    request.on("end", () => {
      void keep(dir, request.url!.slice(1), parts).then(() => response.writeHead(201).end());
    });
  }).listen(0, "127.0.0.1", () => process.send!((server.address() as { port: number }).port));
}
